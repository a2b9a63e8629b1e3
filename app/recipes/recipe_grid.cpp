#include "app/recipes/recipe_grid.h"

#include <QApplication>
#include <QScrollBar>
#include <algorithm>
#include <cmath>

#include "app/commands/recipe_commands.h"
#include "app/recipes/recipe_card.h"

namespace virga {
namespace {

constexpr int gap = 10;

struct Shown {
    Snapshot project;
    std::vector<std::int64_t> frames; // of the reel
    std::optional<CutShowing> showing;
};

// Only the cut's own two clips: what the neighbours do does not change these pictures.
Shown shownOf(const Project& project, int cut, const Recipe& recipe) {
    Project two = project;
    two.reel = {project.reel[std::size_t(cut)], project.reel[std::size_t(cut) + 1]};
    two.reel[0].transition = {};
    two.reel[1].transition.link.reset();
    two.recipes.clear(), two.overlays.clear(), two.adjustments.clear(), two.markers.clear();
    two.notes.clear(), two.music.clear(), two.unknown.reset();
    const std::int64_t at = two.reel[0].length;
    std::int64_t from = at - recipe.framesOut, to = at + recipe.framesIn;
    if (recipe.place == RecipePlace::Shot) {
        two = withRecipe(two, {StackPlace::Drift, 1}, recipe);
        two.reel[1].transition = {};
        from = at, to = reelLength(two);
    } else if (recipe.place == RecipePlace::Overlay) {
        // The incoming shot small over the outgoing one.
        Overlay overlay;
        overlay.clip = two.reel[1];
        overlay.clip.transition = {};
        overlay.clip.placement.scale = 0.6;
        overlay.clip.length = std::max<std::int64_t>(2, std::min(at, overlay.clip.length));
        two.reel.pop_back();
        overlay.start = at - overlay.clip.length;
        two.overlays = {overlay};
        two = withRecipe(two, {StackPlace::Overlay, 0}, recipe);
        from = overlay.start, to = overlay.start + recipe.framesIn + 4;
    } else {
        two = withRecipe(two, 0, recipe);
        // A long one is shown from where it is seen to move.
        from = std::max(from - 1, at - 24), to = std::min(to + 1, at + 24);
    }
    Shown shown{std::make_shared<const Project>(std::move(two)), {}, {}};
    if (recipe.place == RecipePlace::Cut) shown.showing = showingAtCut(*shown.project, 0);
    const std::int64_t last = std::max<std::int64_t>(0, reelLength(*shown.project) - 1);
    // As many before the picture at rest as after it; the cut lies between two of them.
    constexpr int half = RecipeCard::pictures / 2;
    for (int i = 0; i < RecipeCard::pictures; ++i) {
        double t;
        if (recipe.place != RecipePlace::Cut)
            t = double(from) + double(to - from) * i / (RecipeCard::pictures - 1);
        else if (i < half)
            t = double(at - 1) - (double(at - 1 - from) * (half - 1 - i)) / (half - 1);
        else
            t = double(at) + (double(to - 1 - at) * (i - half)) / (half - 1);
        shown.frames.push_back(std::clamp<std::int64_t>(std::llround(t), 0, last));
    }
    return shown;
}

bool matches(const Recipe& recipe, const QString& words) {
    QString text = QString::fromStdString(recipe.name + " " + recipe.group + " " + recipe.note);
    for (const std::string& tag : recipe.tags) text += " " + QString::fromStdString(tag);
    for (const QString& word : words.split(' ', Qt::SkipEmptyParts))
        if (!text.contains(word, Qt::CaseInsensitive)) return false;
    return true;
}

} // namespace

RecipeGrid::RecipeGrid(Document* document, FrameService* frames, RecipeShelf* shelf, const QString& slot, int widest,
                       QWidget* parent)
    : QScrollArea(parent), m_document(document), m_frames(frames), m_shelf(shelf), m_slot(slot), m_widest(widest),
      m_page(new QWidget(this)) {
    setWidget(m_page);
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::NoFocus);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_timer.setSingleShot(true);
    m_timer.setInterval(250);
    connect(&m_timer, &QTimer::timeout, this, &RecipeGrid::refresh);
    const auto later = [this] {
        enable();
        m_timer.start();
    };
    connect(document, &Document::selectionChanged, this, later);
    connect(document, &Document::projectChanged, this, later);
    connect(shelf, &RecipeShelf::changed, this, &RecipeGrid::build);
    connect(verticalScrollBar(), &QScrollBar::valueChanged, this, later);
    connect(frames, &FrameService::ready, this, [this](const QString& name, const FrameResult& result) {
        if (!name.startsWith(m_slot)) return;
        const QStringList parts = name.mid(m_slot.size()).split('/');
        const int card = parts.value(0).toInt(), frame = parts.value(1).toInt();
        if (card >= 0 && card < int(m_cards.size())) m_cards[std::size_t(card)]->setFrame(frame, result.image);
    });
    build();
}

// Cards are made anew only where recipes changed; a star or what was used lately changes their look and order.
void RecipeGrid::build() {
    if (m_built != m_shelf->recipes()) {
        m_frames->drop(m_slot);
        for (RecipeCard* card : m_cards) card->hide(), card->deleteLater();
        m_cards.clear();
        m_built = m_shelf->recipes();
        m_shownFor.clear();
        for (const Recipe& recipe : m_built) {
            auto* card = new RecipeCard(recipe, m_page);
            card->setWidest(m_widest);
            card->setFocusPolicy(Qt::NoFocus); // the grid's owner has the keyboard
            card->setContextMenuPolicy(Qt::CustomContextMenu);
            card->setAlwaysMoving(m_always);
            connect(card, &QAbstractButton::clicked, this, [this, card] {
                choose(card->id());
                emit used(card->id(), QApplication::keyboardModifiers() & Qt::ShiftModifier);
            });
            connect(card, &RecipeCard::starClicked, this,
                    [this, card] { m_shelf->setFavourite(card->id(), !m_shelf->isFavourite(card->id())); });
            connect(card, &QWidget::customContextMenuRequested, this,
                    [this, card](const QPoint& at) { emit menuWanted(card->id(), card->mapToGlobal(at)); });
            m_cards.push_back(card);
        }
    }
    for (RecipeCard* card : m_cards) card->setFavourite(m_shelf->isFavourite(card->id()));
    enable();
    setFilter(m_words, m_group);
}

void RecipeGrid::enable() {
    for (RecipeCard* card : m_cards) card->setEnabled(canUse(*m_document, card->recipe()));
}

void RecipeGrid::setFilter(const QString& words, const QString& group) {
    m_words = words, m_group = group;
    for (RecipeCard* card : m_cards) {
        const QString id = card->id();
        const bool in = group.isEmpty() || (group == "favourites" && m_shelf->isFavourite(id)) ||
                        (group == "recent" && m_shelf->recent().contains(id)) ||
                        (group == "mine" && m_shelf->isOwn(id)) ||
                        QString::fromStdString(card->recipe().group) == group;
        card->setVisible(in && matches(card->recipe(), words));
    }
    arrange();
    m_timer.start();
}

std::vector<RecipeCard*> RecipeGrid::cards() const {
    std::vector<RecipeCard*> shown;
    for (RecipeCard* card : m_cards)
        if (!card->isHidden()) shown.push_back(card);
    if (m_group == "recent")
        std::stable_sort(shown.begin(), shown.end(), [&](RecipeCard* a, RecipeCard* b) {
            return m_shelf->recent().indexOf(a->id()) < m_shelf->recent().indexOf(b->id());
        });
    else
        std::stable_partition(shown.begin(), shown.end(),
                              [&](RecipeCard* card) { return m_shelf->isFavourite(card->id()); });
    // What is called so before what only mentions it.
    if (const QString word = m_words.section(' ', 0, 0, QString::SectionSkipEmpty); !word.isEmpty())
        std::stable_partition(shown.begin(), shown.end(),
                              [&](RecipeCard* card) { return card->text().contains(word, Qt::CaseInsensitive); });
    return shown;
}

RecipeCard* RecipeGrid::card(const QString& id) const {
    for (RecipeCard* card : m_cards)
        if (card->id() == id) return card;
    return nullptr;
}

void RecipeGrid::arrange() {
    // With a scroll bar or without: cards that grew when it went would bring it back.
    const int room = width() - verticalScrollBar()->sizeHint().width();
    const auto shown = cards();
    m_columns = std::max(1, int(std::round(double(room + gap) / (m_widest + gap))));
    const int wide = std::max(60, (room - (m_columns - 1) * gap) / m_columns);
    int y = 0;
    for (std::size_t i = 0; i < shown.size(); ++i) {
        RecipeCard* card = shown[i];
        card->setWidest(wide - 4);
        const int high = card->sizeHint().height();
        card->setGeometry(int(i % std::size_t(m_columns)) * (wide + gap), y, wide, high);
        if (int(i % std::size_t(m_columns)) == m_columns - 1 || i + 1 == shown.size()) y += high + 4;
    }
    m_page->setMinimumHeight(y);
}

void RecipeGrid::choose(const QString& id) {
    for (RecipeCard* card : m_cards) card->setChosen(card->id() == id);
    if (id == m_chosen) return;
    m_chosen = id;
    if (RecipeCard* now = card(id)) ensureWidgetVisible(now, 0, 8);
    emit chosenChanged();
}

void RecipeGrid::step(int along, int down) {
    const auto shown = cards();
    if (shown.empty()) return;
    int at = -1;
    for (std::size_t i = 0; i < shown.size(); ++i)
        if (shown[i]->id() == m_chosen) at = int(i);
    const int last = int(shown.size()) - 1;
    const int to = at < 0 ? 0 : at + along + down * m_columns;
    if (to < 0 || to > last) return;
    choose(shown[std::size_t(to)]->id());
}

void RecipeGrid::setAlwaysMoving(bool on) {
    m_always = on;
    for (RecipeCard* card : m_cards) card->setAlwaysMoving(on);
}

void RecipeGrid::showEvent(QShowEvent*) {
    arrange();
    m_timer.start();
}

void RecipeGrid::hideEvent(QHideEvent*) {
    m_frames->drop(m_slot);
    m_job.stop();
    m_shownFor.clear();
}

void RecipeGrid::resizeEvent(QResizeEvent* event) {
    QScrollArea::resizeEvent(event);
    arrange();
    m_timer.start();
}

void RecipeGrid::refresh() {
    const auto project = m_document->project();
    const int cut = m_document->cut();
    const bool has = cut >= 0 && cut < cutCount(*project);
    if (!has) {
        m_frames->drop(m_slot);
        m_job.stop();
        m_shownFor.clear();
        for (RecipeCard* card : m_cards) card->clearFrames(), card->setShowing({});
        return;
    }
    if (!isVisible() || m_paused) return;
    if (m_document->isDragging()) return m_timer.start(); // what is dragged has the machine
    // Those in sight first, and of the others none.
    struct Wanted {
        int card;
        Recipe recipe;
    };
    std::vector<Wanted> wanted;
    const QRect sight(0, verticalScrollBar()->value() - height() / 2, width(), height() * 2);
    for (int c = 0; c < int(m_cards.size()); ++c)
        if (!m_cards[std::size_t(c)]->isHidden() && m_cards[std::size_t(c)]->geometry().intersects(sight))
            wanted.push_back({c, m_cards[std::size_t(c)]->recipe()});
    m_job.start(
        [project, cut, wanted](auto&&, const Cancel& cancel) {
            std::vector<std::pair<int, Shown>> all;
            for (const Wanted& w : wanted) {
                if (cancel.requested()) break;
                all.push_back({w.card, shownOf(*project, cut, w.recipe)});
            }
            return all;
        },
        [this](const std::vector<std::pair<int, Shown>>& all) {
            m_frames->drop(m_slot);
            // In the order of their frames, so that each picture of the shots is read once for all cards.
            struct Wish {
                std::int64_t frame;
                int card, picture;
                const Shown* shown;
            };
            std::vector<Wish> wishes;
            for (const auto& [card, shown] : all) {
                if (card < int(m_cards.size())) m_cards[std::size_t(card)]->setShowing(shown.showing);
                for (int i = 0; i < int(shown.frames.size()); ++i)
                    wishes.push_back({shown.frames[std::size_t(i)], card, i, &shown});
            }
            std::stable_sort(wishes.begin(), wishes.end(),
                             [](const Wish& a, const Wish& b) { return a.frame < b.frame; });
            for (const Wish& w : wishes) request(w.card, w.picture, w.shown->project, w.frame);
        });
}

void RecipeGrid::request(int number, int picture, const Snapshot& project, std::int64_t frame) {
    if (number >= int(m_cards.size())) return;
    RecipeCard* card = m_cards[std::size_t(number)];
    m_frames->request(QStringLiteral("%1%2/%3").arg(m_slot).arg(number).arg(picture),
                      {project, frame, card->pictureSize() * devicePixelRatioF(), quickQuality,
                       picture == card->atRest() ? Urgency::Soon : Urgency::Pictures});
}

void RecipeGrid::setPaused(bool on) {
    if (on == m_paused) return;
    m_paused = on;
    if (on) {
        m_frames->drop(m_slot);
        m_job.stop();
    } else {
        m_timer.start();
    }
}

} // namespace virga
