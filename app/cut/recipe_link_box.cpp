#include "app/cut/recipe_link_box.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QPushButton>

#include "app/commands/recipe_commands.h"
#include "app/document/words.h"
#include "app/style/controls.h"
#include "app/style/flow_layout.h"
#include "app/style/plain_text.h"

namespace virga {

RecipeLinkBox::RecipeLinkBox(Document* document, QWidget* parent) : QWidget(parent), m_document(document) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    const auto button = [&](const QString& text, const QString& tip, auto command) {
        auto* b = new QPushButton(text, this);
        setTip(b, tip);
        connect(b, &QPushButton::clicked, this, [this, command] { command(*m_document, m_document->cut()); });
        return b;
    };
    m_name = new QPushButton(this);
    setTip(m_name, tr("The recipe that this cut follows: its strength, length and direction"));
    connect(m_name, &QPushButton::clicked, this, [this] {
        const auto project = m_document->project();
        if (const auto& link = transitionAt(*project, m_document->cut()).link)
            emit recipeWanted(QString::fromStdString(link->recipe));
    });
    auto* head = new QHBoxLayout;
    head->addWidget(m_name);
    head->addStretch(1);
    column->addLayout(head);
    m_words = label({}, "caption", this);
    m_words->setWordWrap(true);
    column->addWidget(m_words);
    auto* buttons = new QWidget(this);
    auto* flow = new FlowLayout(buttons, 4);
    flow->setContentsMargins(0, 0, 0, 0);
    m_fold = button(tr("Give to the recipe"), tr("The changes go into the recipe, and so to all cuts that follow it"),
                    foldOwn);
    m_drop = button(tr("Drop changes"), tr("As the recipe says again"), dropOwn);
    m_loose = button(tr("Cut loose"), tr("The cut stays as it is and follows no recipe any more"), cutLink);
    for (QPushButton* b : {m_fold, m_drop, m_loose}) flow->addWidget(b);
    column->addWidget(buttons);
    m_edits = new QCheckBox(tr("edits here go to the recipe"), this);
    setTip(m_edits, tr("What is changed at this cut reaches all cuts that follow the recipe"));
    column->addWidget(m_edits);
    connect(m_edits, &QCheckBox::clicked, this, [this](bool on) { m_document->setEditsRecipe(on); });
    connect(document, &Document::editsRecipeChanged, this, &RecipeLinkBox::refresh);
    connect(document, &Document::projectChanged, this, &RecipeLinkBox::refresh);
    connect(document, &Document::selectionChanged, this, &RecipeLinkBox::refresh);
    refresh();
}

void RecipeLinkBox::refresh() {
    const auto project = m_document->project();
    const int cut = m_document->cut();
    const bool has = cut >= 0 && cut < cutCount(*project);
    const RecipeLink* link = has && transitionAt(*project, cut).link ? &*transitionAt(*project, cut).link : nullptr;
    const Recipe* recipe = link ? findRecipe(*project, link->recipe) : nullptr;
    m_name->setText(recipe ? menuText(shown(recipe->name)) : tr("none"));
    m_name->setEnabled(recipe);
    const auto own = recipe ? ownTexts(*project, cut) : std::vector<std::string>{};
    QString words;
    if (recipe) {
        const auto others = qint64(cutsOf(*project, recipe->id).size()) - 1;
        words = others > 0
                    ? tr("%1 follow%2 it too. ").arg(counted(others, "other cut", "other cuts"), others == 1 ? "s" : "")
                    : tr("No other cut follows it. ");
        QStringList list;
        for (const std::string& text : own) list << QString::fromStdString(text);
        if (!list.isEmpty()) words += tr("Changed here: %1.").arg(list.join("; "));
    } else {
        words = tr("Recipes are in their tab, or with Alt+R in large.");
    }
    m_words->setText(words);
    for (QWidget* w : std::initializer_list<QWidget*>{m_fold, m_drop, m_loose, m_edits}) w->setVisible(recipe);
    m_fold->setEnabled(!own.empty());
    m_drop->setEnabled(!own.empty());
    m_edits->setChecked(m_document->editsRecipe());
}

} // namespace virga
