#include "app/recipes/recipe_detail.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QKeyEvent>
#include <QPushButton>
#include <QSettings>
#include <QSlider>
#include <QStyle>
#include <algorithm>
#include <cmath>

#include "app/commands/recipe_commands.h"
#include "app/document/words.h"
#include "app/recipes/recipe_card.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/project/beats.h"
#include "core/project/limits.h"
#include "core/project/project_json.h"
#include "core/recipe/shot_heading.h"

namespace virga {
namespace {

constexpr auto slot = "recipe-large/";
constexpr int pictures = 20;

// Sliders go by octaves: the middle is as made, each end a quarter or four times.
int sliderOf(double factor) {
    return int(std::lround(std::log2(std::clamp(factor, 0.25, 4.0)) * 100));
}
double factorOf(int slider) {
    return std::abs(slider) <= 6 ? 1 : std::round(std::exp2(slider / 100.0) * 100) / 100; // it clings to the middle
}

} // namespace

QString headingText(Heading heading) {
    switch (heading) {
    case Heading::Left:
        return QObject::tr("left");
    case Heading::Right:
        return QObject::tr("right");
    case Heading::Up:
        return QObject::tr("up");
    case Heading::Down:
        return QObject::tr("down");
    case Heading::In:
        return QObject::tr("in");
    case Heading::Out:
        return QObject::tr("out");
    case Heading::Clockwise:
        return QObject::tr("clockwise");
    case Heading::Counter:
        return QObject::tr("counter-clockwise");
    default:
        return QObject::tr("as made");
    }
}

RecipeDetail::RecipeDetail(Document* document, FrameService* frames, FlowWatch* flow, RecipeShelf* shelf,
                           QWidget* parent)
    : QWidget(parent), m_document(document), m_frames(frames), m_flow(flow), m_shelf(shelf) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(5);
    m_picture = new MovingTile(pictures, pictures / 2 - 2, this);
    m_picture->setWidest(236);
    m_picture->setAlwaysMoving(true);
    m_picture->setPictureOnly(true);
    m_picture->setFocusPolicy(Qt::NoFocus);
    column->addWidget(m_picture);
    auto* head = new QHBoxLayout;
    m_name = label({}, "title", this);
    m_state = label({}, "caption", this);
    m_state->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    head->addWidget(m_name);
    head->addWidget(m_state, 1);
    column->addLayout(head);
    m_note = label({}, "caption", this);
    m_note->setWordWrap(true);
    column->addWidget(m_note);
    auto* grid = new QGridLayout;
    grid->setVerticalSpacing(5);
    grid->setHorizontalSpacing(8);
    grid->setColumnStretch(1, 1);
    int row = 0;
    const auto caption = [&](const QString& text) { return label(text, "caption", this); };
    const auto slider = [&](const QString& name) {
        auto* s = new QSlider(Qt::Horizontal, this);
        s->setRange(-200, 200);
        s->setPageStep(25);
        s->setAccessibleName(name);
        setTip(s, tr("%1: the middle is as it was made; each end a quarter, or four times").arg(name));
        return s;
    };
    const auto field = [&](const QString& name, const QString& unit, double least, double most, int width) {
        auto* f = new NumberField(this);
        f->setUnit(unit, 0, 1);
        f->setRange(least, most);
        f->setFixedWidth(width);
        f->setAccessibleName(name);
        setTip(f, name);
        return f;
    };
    m_strength = slider(tr("Strength"));
    m_strengthField = field(tr("Strength"), tr(" %"), weakestUse * 100, strongestUse * 100, 62);
    m_strengthField->setUnit(tr(" %"), 0, 5);
    grid->addWidget(caption(tr("strength")), row, 0);
    grid->addWidget(m_strength, row, 1);
    grid->addWidget(m_strengthField, row++, 2, Qt::AlignRight);
    m_length = slider(tr("Length"));
    m_out = field(tr("Frames before the cut; also in beats, as 1 b"), {}, 0, longestRecipe, 40);
    m_in = field(tr("Frames after the cut; also in beats, as 1 b"), {}, 0, longestRecipe, 40);
    m_out->setSide("outgoing");
    m_in->setSide("incoming");
    auto* lengths = new QHBoxLayout;
    lengths->setSpacing(4);
    lengths->addWidget(m_out);
    lengths->addWidget(m_in);
    grid->addWidget(caption(tr("length")), row, 0);
    grid->addWidget(m_length, row, 1);
    grid->addLayout(lengths, row++, 2, Qt::AlignRight);
    m_heading = new QComboBox(this);
    m_heading->setAccessibleName(tr("Direction"));
    grid->addWidget(caption(tr("direction")), row, 0);
    grid->addWidget(m_heading, row++, 1, 1, 2);
    m_mirrored = new QCheckBox(tr("mirrored"), this);
    setTip(m_mirrored, tr("Left and right exchanged"));
    m_reversed = new QCheckBox(tr("backwards"), this);
    setTip(m_reversed, tr("What departed arrives, and the other way round"));
    m_byTime = new QCheckBox(tr("by time"), this);
    setTip(m_byTime, tr("At another frame rate than it was made for it takes as long, not as many frames"));
    auto* ways = new QHBoxLayout;
    ways->setSpacing(10);
    for (QCheckBox* box : {m_mirrored, m_reversed, m_byTime}) ways->addWidget(box);
    ways->addStretch(1);
    grid->addLayout(ways, row++, 0, 1, 3);
    m_wholeCaption = caption(tr("passes frames"));
    m_whole = field(tr("How many frames' widths it passes"), {}, 1, 100, 62);
    grid->addWidget(m_wholeCaption, row, 0, 1, 2);
    grid->addWidget(m_whole, row++, 2, Qt::AlignRight);
    m_stepCaption = caption(tr("from shot to shot"));
    m_step = field(tr("Frames from one shot to the next where it is put on several cuts"), tr(" f"), 1, 1000, 62);
    grid->addWidget(m_stepCaption, row, 0, 1, 2);
    grid->addWidget(m_step, row++, 2, Qt::AlignRight);
    column->addLayout(grid);
    m_edges = label({}, "caption", this);
    m_edges->setWordWrap(true);
    column->addWidget(m_edges);
    auto* buttons = new QHBoxLayout;
    m_here = new QPushButton(tr("Use here"), this);
    m_here->setObjectName("primary");
    m_many = new QPushButton(tr("On more cuts…"), this);
    buttons->addWidget(m_here);
    buttons->addWidget(m_many);
    buttons->addStretch(1);
    column->addLayout(buttons);
    m_linked = new QCheckBox(tr("stay linked to the recipe"), this);
    setTip(m_linked, tr("The cut follows the recipe: what is changed in it reaches every linked cut"));
    m_linked->setChecked(QSettings().value("recipes/linked", true).toBool());
    connect(m_linked, &QCheckBox::toggled, this, [](bool on) { QSettings().setValue("recipes/linked", on); });
    column->addWidget(m_linked);
    column->addStretch(1);
    for (QWidget* w : std::initializer_list<QWidget*>{m_here, m_many, m_linked, m_mirrored, m_reversed, m_byTime,
                                                      m_strength, m_length})
        w->setFocusPolicy(Qt::TabFocus); // the cards keep the arrows while the mouse is used here

    connect(m_strength, &QSlider::valueChanged, this, [this](int v) {
        m_use.strength = factorOf(v);
        changed();
    });
    connect(m_strengthField, &NumberField::edited, this, [this](double v) {
        m_use.strength = v / 100;
        changed();
    });
    connect(m_length, &QSlider::valueChanged, this, [this](int v) {
        m_use.length = factorOf(v);
        m_use.framesOut = m_use.framesIn = 0;
        changed();
    });
    const auto typed = [this](NumberField* f, int RecipeUse::*part) {
        connect(f, &NumberField::edited, this, [this, part](double v) {
            m_use.*part = int(std::lround(v));
            changed();
        });
    };
    typed(m_out, &RecipeUse::framesOut);
    typed(m_in, &RecipeUse::framesIn);
    typed(m_whole, &RecipeUse::wholeFrames);
    typed(m_step, &RecipeUse::step);
    connect(m_heading, &QComboBox::activated, this, [this](int i) {
        m_use.heading = Heading(m_heading->itemData(i).toInt());
        changed();
    });
    const auto ticked = [this](QCheckBox* box, bool RecipeUse::*part) {
        connect(box, &QCheckBox::clicked, this, [this, part](bool on) {
            m_use.*part = on;
            changed();
        });
    };
    ticked(m_mirrored, &RecipeUse::mirrored);
    ticked(m_reversed, &RecipeUse::reversed);
    ticked(m_byTime, &RecipeUse::byTime);
    connect(m_here, &QPushButton::clicked, this, [this] {
        if (useHere()) emit usedHere();
    });
    connect(m_many, &QPushButton::clicked, this, [this] { emit manyWanted(m_id, m_use); });
    connect(m_flow, &FlowWatch::trialChanged, this, &RecipeDetail::refreshFlow);
    m_later.setSingleShot(true);
    m_later.setInterval(60);
    connect(&m_later, &QTimer::timeout, this, &RecipeDetail::requestPictures);
    connect(m_document, &Document::selectionChanged, this, [this] {
        if (isVisible() && !m_id.isEmpty()) changed();
    });
    connect(frames, &FrameService::ready, this, [this](const QString& name, const FrameResult& result) {
        if (name.startsWith(slot)) m_picture->setFrame(name.mid(int(qstrlen(slot))).toInt(), result.image);
    });
}

bool RecipeDetail::isLinked() const {
    return m_linked->isChecked();
}

void RecipeDetail::showRecipe(const QString& id) {
    m_id = id;
    m_use = {};
    const auto project = m_document->project();
    const int cut = m_document->cut();
    // It goes on from where the shot goes by itself, until it is told otherwise.
    if (const auto shots = m_document->judgedShots())
        if (const Recipe* recipe = m_shelf->find(id))
            if (const auto goes = headingOfShot(*project, cut, *shots);
                goes && std::find(recipe->headings.begin(), recipe->headings.end(), *goes) != recipe->headings.end())
                m_use.heading = *goes;
    if (cut >= 0 && cut < cutCount(*project))
        if (const auto& link = transitionAt(*project, cut).link; link && link->recipe == id.toStdString())
            m_use = link->use;
    changed();
}

void RecipeDetail::setTrying(bool on) {
    m_trying = on;
    if (!on) {
        m_frames->drop(slot);
        m_document->tryOut(nullptr);
    } else if (!m_id.isEmpty()) {
        changed();
    }
}

void RecipeDetail::changed() {
    refresh();
    const Recipe* recipe = m_shelf->find(m_id);
    if (!m_trying || !recipe) return;
    if (canUse(*m_document, *recipe))
        m_document->tryOut(std::make_shared<const Project>(
            withRecipe(*m_document->project(), placeOf(*m_document, *recipe), *recipe, m_use, false)));
    else
        m_document->tryOut(nullptr);
    m_later.start();
    refreshFlow();
}

void RecipeDetail::refresh() {
    const Recipe* recipe = m_shelf->find(m_id);
    setEnabled(recipe != nullptr);
    if (!recipe) return;
    m_name->setText(shown(recipe->name));
    m_note->setText(shownLines(recipe->note));
    const auto project = m_document->project();
    const int cut = m_document->cut();
    const bool can = canUse(*m_document, *recipe), atCut = recipe->place == RecipePlace::Cut;
    {
        const QSignalBlocker a(m_strength), b(m_length);
        m_strength->setValue(sliderOf(m_use.strength));
        m_length->setValue(sliderOf(m_use.length));
    }
    m_strengthField->setValue(m_use.strength * 100);
    m_length->setEnabled(recipe->place != RecipePlace::Shot);
    for (NumberField* f : {m_out, m_in}) {
        f->setEnabled(atCut && (f == m_out ? recipe->framesOut : recipe->framesIn) > 0);
        if (const double beat = hasBeats(*project) ? double(beatFrame(*project, 1) - beatFrame(*project, 0)) : 0;
            beat > 0)
            f->setUnits(Units{{"b", beat}, {"beats", beat}, {"beat", beat}});
    }
    if (atCut && can) {
        const Fitted fit = fittedAt(*project, cut, *recipe, m_use);
        m_out->setValue(fit.framesOut);
        m_in->setValue(fit.framesIn);
    } else {
        m_out->setValue(recipe->framesOut);
        m_in->setValue(recipe->framesIn);
    }
    m_heading->clear();
    const auto shots = m_document->judgedShots();
    const auto goes = atCut && shots ? headingOfShot(*project, cut, *shots) : std::nullopt;
    for (const Heading heading : recipe->headings)
        m_heading->addItem(goes == heading ? tr("%1 (as the shot goes)").arg(headingText(heading))
                                           : headingText(heading),
                           int(heading));
    if (recipe->headings.empty()) m_heading->addItem(headingText(Heading::AsMade), int(Heading::AsMade));
    m_heading->setCurrentIndex(std::max(0, m_heading->findData(int(headingOf(*recipe, m_use)))));
    m_heading->setEnabled(recipe->headings.size() > 1);
    m_mirrored->setChecked(m_use.mirrored);
    m_reversed->setChecked(m_use.reversed);
    m_reversed->setEnabled(atCut);
    m_byTime->setChecked(m_use.byTime);
    m_byTime->setEnabled(atCut);
    for (QWidget* w : std::initializer_list<QWidget*>{m_whole, m_wholeCaption}) w->setVisible(recipe->wholeFrames > 0);
    for (QWidget* w : std::initializer_list<QWidget*>{m_step, m_stepCaption}) w->setVisible(recipe->step > 0);
    m_whole->setValue(m_use.wholeFrames > 0 ? m_use.wholeFrames : recipe->wholeFrames);
    m_step->setValue(m_use.step > 0 ? m_use.step : recipe->step);
    m_here->setEnabled(can);
    m_many->setEnabled(atCut && cutCount(*project) > 1);
    m_linked->setEnabled(atCut);
}

void RecipeDetail::refreshFlow() {
    const Recipe* recipe = m_shelf->find(m_id);
    QString state, edges;
    const char* role = "caption";
    const int cut = m_document->cut();
    if (recipe && !canUse(*m_document, *recipe)) {
        state = recipe->place == RecipePlace::Overlay ? tr("select an overlay") : tr("select a cut");
    } else if (m_trying && recipe && recipe->place == RecipePlace::Cut) {
        if (const ReelFlow* flow = m_flow->trial();
            flow && cut >= 0 && cut < int(flow->cuts.size()) && flow->cuts[std::size_t(cut)]) {
            const auto& findings = flow->cuts[std::size_t(cut)]->findings;
            role = findings.empty() ? "fine" : findings.front().severity == Severity::Breaks ? "breaks" : "caption";
            state = findings.empty() ? tr("clean at this cut") : QString::fromStdString(findings.front().title);
        } else {
            state = tr("checking…");
        }
    }
    if (recipe && recipe->edges) edges = tr("edges: %1").arg(textOf(nameOf(*recipe->edges)));
    if (recipe && recipe->transition.shutter)
        edges += (edges.isEmpty() ? "" : "; ") + tr("shutter %1°").arg(recipe->transition.shutter->angle);
    if (recipe && !recipe->transition.overlap.isEmpty())
        edges += (edges.isEmpty() ? "" : "; ") +
                 tr("needs %1")
                     .arg(counted(std::max(recipe->transition.overlap.after, recipe->transition.overlap.before),
                                  "spare frame", "spare frames"));
    m_edges->setText(edges);
    m_state->setObjectName(role);
    m_state->style()->unpolish(m_state), m_state->style()->polish(m_state);
    m_state->setText(m_state->fontMetrics().elidedText(state, Qt::ElideRight, 190));
    setTip(m_state, state);
}

// Enter in a field has entered its number, and no more.
void RecipeDetail::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return event->accept();
    QWidget::keyPressEvent(event);
}

// As it is tried, at the size it is shown, around the cut.
void RecipeDetail::requestPictures() {
    m_frames->drop(slot);
    const Recipe* recipe = m_shelf->find(m_id);
    if (!recipe || !isVisible() || !m_document->isTrying()) return;
    const Snapshot project = m_document->shown();
    const int cut = m_document->cut();
    if (cut < 0 || cut >= cutCount(*project)) return;
    const std::int64_t at = cutFrame(*project, cut), last = std::max<std::int64_t>(0, reelLength(*project) - 1);
    const double from = double(at) - std::clamp(m_out->value() + 2, 4.0, 30.0),
                 to = double(at) + std::clamp(m_in->value() + 2, 4.0, 30.0);
    const QSize size = m_picture->pictureSize() * devicePixelRatioF();
    for (int i = 0; i < pictures; ++i) {
        const auto frame = std::clamp<std::int64_t>(std::llround(from + (to - from) * i / (pictures - 1)), 0, last);
        m_frames->request(
            QStringLiteral("%1%2").arg(slot).arg(i),
            {project, frame, size, quickQuality, i == m_picture->atRest() ? Urgency::Soon : Urgency::Pictures});
    }
}

bool RecipeDetail::useHere(bool otherWay) {
    const Recipe* recipe = m_shelf->find(m_id);
    if (!recipe || !canUse(*m_document, *recipe)) return false;
    const Recipe copy = *recipe; // noting that it was used may reload the shelf
    const RecipeUse use = otherWay ? opposite(copy, m_use) : m_use;
    m_document->tryOut(nullptr);
    applyRecipe(*m_document, copy, use, isLinked());
    m_shelf->noteUsed(m_id);
    return true;
}

} // namespace virga
