#include "app/recipes/recipes_panel.h"

#include <QAbstractScrollArea>
#include <QApplication>
#include <QGridLayout>
#include <QLabel>
#include <QScrollBar>
#include <algorithm>

#include "app/commands/cut_commands.h"
#include "app/recipes/recipe_card.h"
#include "app/style/controls.h"

namespace virga {

RecipesPanel::RecipesPanel(Document* document, FrameService* frames, QWidget* parent)
    : QWidget(parent), m_document(document), m_frames(frames) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(10, 6, 10, 8);
    column->setSpacing(6);
    auto* grid = new QGridLayout;
    grid->setSpacing(4);
    int i = 0;
    for (const Recipe& recipe : builtInRecipes()) {
        auto* card = new RecipeCard(recipe, this);
        connect(card, &QAbstractButton::clicked, this, [this, card] {
            applyRecipe(*m_document, m_document->cut(), card->recipe(),
                        QApplication::keyboardModifiers() & Qt::ShiftModifier);
        });
        grid->addWidget(card, i / 3, i % 3);
        grid->setColumnStretch(i % 3, 1);
        m_cards.push_back(card);
        ++i;
    }
    column->addLayout(grid);
    m_hint = label(tr("Click to use one at this cut; Shift turns it round. Point at a picture to see it move."),
                   "caption", this);
    m_hint->setWordWrap(true);
    column->addWidget(m_hint);
    column->addStretch(1);
    m_timer.setSingleShot(true);
    m_timer.setInterval(250);
    connect(&m_timer, &QTimer::timeout, this, &RecipesPanel::refresh);
    const auto later = [this] { m_timer.start(); };
    connect(document, &Document::selectionChanged, this, later);
    connect(document, &Document::projectChanged, this, later);
    connect(frames, &FrameService::ready, this, [this](const QString& slot, const FrameResult& result) {
        if (!slot.startsWith("recipe-")) return;
        const QStringList parts = slot.split('-');
        const int card = parts.value(1).toInt(), frame = parts.value(2).toInt();
        if (card >= 0 && card < int(m_cards.size())) m_cards[std::size_t(card)]->setFrame(frame, result.image);
    });
    refresh();
}

void RecipesPanel::showEvent(QShowEvent*) {
    m_timer.start();
}
void RecipesPanel::resizeEvent(QResizeEvent*) {
    // As large as three beside each other can be, with a scroll bar or without: cards that grew when it went would
    // bring it back.
    int room = width();
    for (QWidget* w = parentWidget(); w; w = w->parentWidget())
        if (auto* scroll = qobject_cast<QAbstractScrollArea*>(w)) {
            room = scroll->width() - scroll->verticalScrollBar()->sizeHint().width();
            break;
        }
    for (RecipeCard* card : m_cards) {
        card->setWidest(std::clamp((room - 28) / 3 - 4, 60, 220));
        card->updateGeometry();
    }
    m_timer.start();
}

void RecipesPanel::refresh() {
    const auto project = m_document->project();
    const int cut = m_document->cut();
    for (RecipeCard* card : m_cards) card->setEnabled(cut >= 0);
    m_frames->drop("recipe-");
    if (cut < 0) {
        for (RecipeCard* card : m_cards) card->clearFrames();
        return;
    }
    if (!isVisible()) return;
    for (int c = 0; c < int(m_cards.size()); ++c) {
        // Only the cut's own two clips: what the neighbours do does not change these pictures.
        Project two = *project;
        two.reel = {project->reel[std::size_t(cut)], project->reel[std::size_t(cut) + 1]};
        two.reel[0].transition = {};
        const auto shown = std::make_shared<const Project>(withRecipe(two, 0, m_cards[std::size_t(c)]->recipe()));
        const QSize size = m_cards[std::size_t(c)]->pictureSize() * devicePixelRatioF();
        for (int i = 0; i < RecipeCard::frameCount; ++i) {
            const auto frame =
                std::clamp<std::int64_t>(two.reel[0].length + RecipeCard::firstFrame + i, 0, reelLength(*shown) - 1);
            m_frames->request(QStringLiteral("recipe-%1-%2").arg(c).arg(i),
                              {shown, frame, size, quickQuality,
                               i == -RecipeCard::firstFrame - 2 ? Urgency::Soon : Urgency::Pictures});
        }
    }
}

} // namespace virga
