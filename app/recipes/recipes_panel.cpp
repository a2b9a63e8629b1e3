#include "app/recipes/recipes_panel.h"

#include <QComboBox>
#include <QKeyEvent>
#include <QLineEdit>
#include <QSettings>
#include <QToolButton>

#include "app/commands/recipe_commands.h"
#include "app/document/words.h"
#include "app/recipes/recipe_card.h"
#include "app/style/controls.h"
#include "app/style/plain_text.h"

namespace virga {

std::vector<std::pair<QString, QString>> recipeGroupChoices() {
    std::vector<std::pair<QString, QString>> choices = {{QObject::tr("all"), ""}};
    for (const std::string_view group : recipeGroups()) choices.push_back({textOf(group), textOf(group)});
    choices.push_back({QObject::tr("mine"), "mine"});
    choices.push_back({QObject::tr("favourites"), "favourites"});
    choices.push_back({QObject::tr("recent"), "recent"});
    return choices;
}

RecipesPanel::RecipesPanel(Document* document, FrameService* frames, RecipeShelf* shelf, QWidget* parent)
    : QWidget(parent), m_document(document), m_shelf(shelf) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(10, 8, 4, 4);
    column->setSpacing(8);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(0, 0, 6, 0);
    head->setSpacing(6);
    m_search = new QLineEdit(this);
    m_search->setPlaceholderText(tr("search"));
    m_search->setClearButtonEnabled(true);
    m_search->setAccessibleName(tr("Search recipes by name, tag or movement"));
    setTip(m_search, tr("Name, tag or movement"));
    m_group = new QComboBox(this);
    m_group->setAccessibleName(tr("Which recipes"));
    for (const auto& [text, name] : recipeGroupChoices()) m_group->addItem(text, name);
    auto* large = iconButton("grow", tr("Recipes in large, with strength, length and direction"), this, 26);
    connect(large, &QToolButton::clicked, this, [this] { emit largeWanted(m_grid->chosen()); });
    const auto mayOpen = [this, large] { large->setEnabled(m_document->cut() >= 0); };
    connect(document, &Document::selectionChanged, large, mayOpen);
    connect(document, &Document::projectChanged, large, mayOpen);
    mayOpen();
    head->addWidget(m_search, 1);
    head->addWidget(m_group);
    head->addWidget(large);
    column->addLayout(head);
    m_grid = new RecipeGrid(document, frames, shelf, "recipe-tab/", 98, this);
    m_grid->setAlwaysMoving(alwaysMoving());
    column->addWidget(m_grid, 1);
    const auto filter = [this] { m_grid->setFilter(m_search->text(), m_group->currentData().toString()); };
    connect(m_search, &QLineEdit::textChanged, this, filter);
    connect(m_group, &QComboBox::currentIndexChanged, this, filter);
    m_search->installEventFilter(this);
    connect(m_grid, &RecipeGrid::menuWanted, this, &RecipesPanel::menuWanted);
    connect(m_grid, &RecipeGrid::used, this, [this](const QString& id, bool otherWay) {
        const Recipe* recipe = m_shelf->find(id);
        if (!recipe) return;
        const Recipe copy = *recipe;
        applyRecipe(*m_document, copy, otherWay ? opposite(copy, {}) : RecipeUse{},
                    QSettings().value("recipes/linked", true).toBool());
        m_shelf->noteUsed(id);
    });
}

// From the search field up and down choose a card, Enter uses it: the chosen one where it is in sight, else the first.
bool RecipesPanel::eventFilter(QObject* watched, QEvent* event) {
    if (watched != m_search || event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    const auto cards = m_grid->cards();
    switch (key->key()) {
    case Qt::Key_Down:
    case Qt::Key_Up:
        key->modifiers() & Qt::ShiftModifier ? m_grid->step(key->key() == Qt::Key_Down ? 1 : -1, 0)
                                             : m_grid->step(0, key->key() == Qt::Key_Down ? 1 : -1);
        return true;
    case Qt::Key_Return:
    case Qt::Key_Enter: {
        if (cards.empty()) return true;
        RecipeCard* use = cards.front();
        for (RecipeCard* card : cards)
            if (card->isChosen()) use = card;
        if (!use->isEnabled()) return true;
        m_grid->choose(use->id());
        emit m_grid->used(use->id(), key->modifiers() & Qt::ShiftModifier);
        return true;
    }
    default:
        return QWidget::eventFilter(watched, event);
    }
}

bool RecipesPanel::alwaysMoving() {
    return QSettings().value("recipes/alwaysMoving", false).toBool();
}

void RecipesPanel::setAlwaysMoving(bool on) {
    QSettings().setValue("recipes/alwaysMoving", on);
    m_grid->setAlwaysMoving(on);
}

} // namespace virga
