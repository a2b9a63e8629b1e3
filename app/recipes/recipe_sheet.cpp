#include "app/recipes/recipe_sheet.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPainter>
#include <QScrollArea>
#include <QToolButton>

#include "app/recipes/recipe_card.h"
#include "app/recipes/recipes_panel.h"
#include "app/style/controls.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"

namespace virga {

RecipeSheet::RecipeSheet(Document* document, FrameService* frames, FlowWatch* flow, RecipeShelf* shelf, QWidget* parent)
    : QWidget(parent), m_document(document), m_shelf(shelf) {
    setObjectName("recipeSheet");
    setAccessibleName(tr("Recipes in large"));
    setFocusPolicy(Qt::StrongFocus);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 8, 12, 8);
    column->setSpacing(8);
    auto* head = new QHBoxLayout;
    head->setSpacing(5);
    auto* title = label(tr("Recipes"), "title", this);
    head->addWidget(title);
    head->addSpacing(6);
    m_search = new QLineEdit(this);
    m_search->setPlaceholderText(tr("name, tag, movement"));
    m_search->setClearButtonEnabled(true);
    m_search->setAccessibleName(tr("Search recipes by name, tag or movement"));
    m_search->setFixedWidth(170);
    m_search->installEventFilter(this);
    head->addWidget(m_search);
    head->addSpacing(6);
    m_groups = new QButtonGroup(this);
    int number = 0;
    for (const auto& [text, name] : recipeGroupChoices()) {
        auto* chip = new QToolButton(this);
        chip->setText(text);
        chip->setCheckable(true);
        chip->setObjectName("chip");
        chip->setProperty("group", name);
        chip->setFocusPolicy(Qt::TabFocus);
        m_groups->addButton(chip, number++);
        head->addWidget(chip);
    }
    m_groups->button(0)->setChecked(true);
    head->addStretch(1);
    auto* moving = new QCheckBox(tr("all move"), this);
    setTip(moving, tr("All pictures move at once, not only the one under the pointer"));
    moving->setChecked(RecipesPanel::alwaysMoving());
    moving->setFocusPolicy(Qt::TabFocus);
    head->addWidget(moving);
    auto* close = iconButton("close", tr("Close (Escape)"), this, 26);
    close->setFocusPolicy(Qt::TabFocus);
    head->addWidget(close);
    column->addLayout(head);
    auto* body = new QHBoxLayout;
    body->setSpacing(12);
    m_grid = new RecipeGrid(document, frames, shelf, "recipe-sheet/", 176, this);
    m_grid->setAlwaysMoving(RecipesPanel::alwaysMoving());
    body->addWidget(m_grid, 1);
    auto* side = new QScrollArea(this);
    side->setFixedWidth(304);
    side->setWidgetResizable(true);
    side->setFrameShape(QFrame::NoFrame);
    side->setFocusPolicy(Qt::NoFocus);
    side->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_detail = new RecipeDetail(document, frames, flow, shelf, side);
    side->setWidget(m_detail);
    body->addWidget(side);
    column->addLayout(body, 1);
    hide();

    connect(m_search, &QLineEdit::textChanged, this, &RecipeSheet::filter);
    connect(m_groups, &QButtonGroup::idClicked, this, &RecipeSheet::filter);
    connect(close, &QToolButton::clicked, this, &RecipeSheet::close);
    connect(moving, &QCheckBox::toggled, this, [this](bool on) {
        m_grid->setAlwaysMoving(on);
        emit alwaysMovingChanged(on);
    });
    connect(m_grid, &RecipeGrid::chosenChanged, this, [this] {
        if (isVisible()) m_detail->showRecipe(m_grid->chosen());
    });
    connect(m_grid, &RecipeGrid::used, this, [this](const QString&, bool) { setFocus(); }); // a click chooses here
    connect(m_grid, &RecipeGrid::menuWanted, this, &RecipeSheet::menuWanted);
    connect(m_detail, &RecipeDetail::usedHere, this, &RecipeSheet::close);
    connect(m_detail, &RecipeDetail::manyWanted, this, &RecipeSheet::manyWanted);
}

void RecipeSheet::open(const QRect& where, const QString& id) {
    setGeometry(where);
    QWidget::show();
    raise();
    setFocus();
    QString chosen = id;
    const auto project = m_document->project();
    if (const int cut = m_document->cut(); chosen.isEmpty() && cut >= 0 && cut < cutCount(*project))
        if (const auto& link = transitionAt(*project, cut).link) chosen = QString::fromStdString(link->recipe);
    if (!m_shelf->find(chosen) && !m_grid->cards().empty()) chosen = m_grid->cards().front()->id();
    m_grid->choose(chosen);
    m_detail->showRecipe(chosen);
    m_detail->setTrying(true);
}

void RecipeSheet::close() {
    if (!isVisible()) return;
    hide();
    emit closed();
}

void RecipeSheet::hideEvent(QHideEvent*) {
    m_detail->setTrying(false);
}

void RecipeSheet::filter() {
    m_grid->setFilter(m_search->text(), m_groups->checkedButton()->property("group").toString());
    if (const auto cards = m_grid->cards(); !cards.empty() && !m_search->text().isEmpty())
        m_grid->choose(cards.front()->id());
}

void RecipeSheet::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().panel);
    p.setPen(theme().line);
    p.drawLine(rect().topLeft(), rect().topRight());
    p.drawLine(rect().bottomLeft(), rect().bottomRight());
}

bool RecipeSheet::handleKey(QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Escape:
        close();
        return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (m_detail->useHere(event->modifiers() & Qt::ShiftModifier)) close();
        return true;
    case Qt::Key_Up:
        m_grid->step(0, -1);
        return true;
    case Qt::Key_Down:
        m_grid->step(0, 1);
        return true;
    default:
        return false;
    }
}

// The search field keeps its own left and right; up and down choose a card from there too.
bool RecipeSheet::eventFilter(QObject* watched, QEvent* event) {
    if (watched == m_search && event->type() == QEvent::KeyPress && handleKey(static_cast<QKeyEvent*>(event)))
        return true;
    return QWidget::eventFilter(watched, event);
}

// The window's shortcuts stay away from its keys.
bool RecipeSheet::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {
        auto* key = static_cast<QKeyEvent*>(event);
        const bool plain = !(key->modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier));
        if (plain && key->key() != Qt::Key_Space) {
            event->accept();
            return true;
        }
    }
    return QWidget::event(event);
}

void RecipeSheet::keyPressEvent(QKeyEvent* event) {
    if (handleKey(event)) return;
    switch (event->key()) {
    case Qt::Key_Left:
        return m_grid->step(-1, 0);
    case Qt::Key_Right:
        return m_grid->step(1, 0);
    default:
        break;
    }
    if (const QString text = event->text(); !text.isEmpty() && text[0].isLetterOrNumber()) {
        m_search->setFocus();
        m_search->setText(text);
        return;
    }
    QWidget::keyPressEvent(event);
}

} // namespace virga
