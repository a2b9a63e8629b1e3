#include "app/recipes/recipe_dialogs.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <numeric>

#include "app/document/words.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "app/style/plain_text.h"

namespace virga {
namespace {

// Cancel and, right of it, what the dialog is for.
QWidget* buttonsFor(QDialog* dialog, const QString& accept, QPushButton** button) {
    auto* box = new QWidget(dialog);
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 6, 0, 0);
    auto* cancel = new QPushButton(QObject::tr("Cancel"), box);
    *button = new QPushButton(accept, box);
    (*button)->setObjectName("primary");
    (*button)->setDefault(true);
    row->addStretch(1);
    row->addWidget(cancel);
    row->addWidget(*button);
    QObject::connect(cancel, &QPushButton::clicked, dialog, &QDialog::reject);
    return box;
}

QString nameOf(const Recipe& recipe) {
    return shown(recipe.name);
}

} // namespace

PartsBox::PartsBox(const Recipe& whole, QWidget* parent) : QWidget(parent) {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setVerticalSpacing(4);
    const auto has = [&](auto&& role) {
        return std::any_of(whole.transition.moves.begin(), whole.transition.moves.end(),
                           [&](const Move& m) { return role(moveInfo(m.kind).role); });
    };
    const std::tuple<QString, bool RecipeParts::*, bool> rows[] = {
        {tr("movement"), &RecipeParts::movement, has([](MoveRole r) { return r == MoveRole::Movement; })},
        {tr("fades"), &RecipeParts::opacity, has([](MoveRole r) { return r == MoveRole::Opacity; })},
        {tr("finishing"), &RecipeParts::finishing, has([](MoveRole r) { return r == MoveRole::Finishing; })},
        {tr("shutter"), &RecipeParts::shutter, whole.transition.shutter.has_value()},
        {tr("overlap, and who lies on top"), &RecipeParts::overlap, !whole.transition.overlap.isEmpty()},
        {tr("edges"), &RecipeParts::edges, whole.edges.has_value()},
        {tr("speed ramps"), &RecipeParts::ramps, whole.rampOut || whole.rampIn},
    };
    int i = 0;
    for (const auto& [text, part, there] : rows) {
        auto* box = new QCheckBox(text, this);
        box->setChecked(there);
        box->setEnabled(there);
        if (!there) setTip(box, tr("This cut has none"));
        connect(box, &QCheckBox::toggled, this, &PartsBox::changed);
        grid->addWidget(box, i / 2, i % 2);
        m_boxes.push_back({box, part});
        ++i;
    }
}

RecipeParts PartsBox::parts() const {
    RecipeParts parts;
    for (const auto& [box, part] : m_boxes) parts.*part = box->isChecked();
    return parts;
}

KeepRecipeDialog::KeepRecipeDialog(Document* document, RecipeShelf* shelf, QWidget* parent)
    : QDialog(parent), m_document(document), m_shelf(shelf) {
    setWindowTitle(tr("Keep as recipe"));
    setObjectName("keepRecipe");
    setMinimumWidth(400);
    const auto project = document->project();
    const int cut = document->cut();
    const Recipe whole = recipeFrom(*project, cut, "recipe").value_or(Recipe{});
    FormRows rows(this);
    m_name = new QLineEdit(this);
    m_name->setAccessibleName(tr("Name of the recipe"));
    m_name->setPlaceholderText(tr("how you will find it again"));
    rows.add(tr("name"), m_name);
    m_note = new QLineEdit(this);
    m_note->setAccessibleName(tr("Note"));
    m_note->setPlaceholderText(tr("what it is for"));
    rows.add(tr("note"), m_note);
    m_tags = new QLineEdit(this);
    m_tags->setAccessibleName(tr("Tags, with commas between them"));
    m_tags->setPlaceholderText(tr("opener, hard, sport"));
    rows.add(tr("tags"), m_tags);
    m_parts = new PartsBox(whole, this);
    rows.add(tr("with its"), m_parts);
    m_link = new QCheckBox(tr("this cut follows the recipe from now on"), this);
    m_link->setChecked(true);
    rows.add({}, m_link);
    m_words = label({}, "caption", this);
    m_words->setWordWrap(true);
    rows.add({}, m_words);
    rows.add({}, buttonsFor(this, tr("Keep"), &m_keep));
    rows.end();
    connect(m_keep, &QPushButton::clicked, this, &KeepRecipeDialog::keep);
    connect(m_name, &QLineEdit::textChanged, this, &KeepRecipeDialog::refresh);
    connect(m_parts, &PartsBox::changed, this, &KeepRecipeDialog::refresh);
    refresh();
}

void KeepRecipeDialog::refresh() {
    const auto recipe =
        recipeFrom(*m_document->project(), m_document->cut(), m_name->text().toStdString(), m_parts->parts());
    const bool named = !m_name->text().trimmed().isEmpty();
    m_keep->setEnabled(recipe && named);
    m_words->setText(!recipe  ? QString::fromStdString(recipe.error().message)
                     : !named ? tr("It takes %1 before the cut and %2 after it.")
                                    .arg(counted(recipe->framesOut, "frame", "frames"))
                                    .arg(recipe->framesIn)
                              : tr("Kept as %1%2 in the folder of your recipes.")
                                    .arg(QString::fromStdString(recipe->id),
                                         QString::fromUtf8(recipeSuffix.data(), int(recipeSuffix.size()))));
}

void KeepRecipeDialog::keep() {
    auto recipe =
        recipeFrom(*m_document->project(), m_document->cut(), m_name->text().trimmed().toStdString(), m_parts->parts());
    if (!recipe) return refresh();
    recipe->note = m_note->text().trimmed().toStdString();
    for (const QString& tag : m_tags->text().split(',', Qt::SkipEmptyParts))
        if (!tag.trimmed().isEmpty()) recipe->tags.push_back(tag.trimmed().toStdString());
    if (auto done = m_shelf->add(*recipe); done) {
        recipe = *done;
    } else {
        m_words->setText(QString::fromStdString(describe(done.error())));
        return;
    }
    if (m_link->isChecked()) linkTo(*m_document, m_document->cut(), *recipe);
    m_shelf->noteUsed(QString::fromStdString(recipe->id));
    accept();
}

ManyCutsDialog::ManyCutsDialog(Document* document, const Recipe& recipe, const RecipeUse& use, bool linked,
                               QWidget* parent)
    : QDialog(parent), m_document(document), m_recipe(recipe), m_use(use) {
    setWindowTitle(tr("%1 on more cuts").arg(nameOf(recipe)));
    setObjectName("manyCuts");
    setMinimumWidth(380);
    FormRows rows(this);
    m_which = new QComboBox(this);
    m_which->addItems({tr("all cuts of the reel"), tr("the cuts between the chosen clips"), tr("cuts without moves"),
                       tr("cuts that follow this recipe")});
    const Selection s = document->selection();
    m_which->setCurrentIndex(s.kind == Selection::ClipSelected && s.all().size() > 1 ? 1 : 0);
    rows.add(tr("at"), m_which);
    m_every = new QComboBox(this);
    m_every->addItems({tr("every one"), tr("every second one"), tr("every third one"), tr("every fourth one")});
    rows.add(tr("of them"), m_every);
    m_ways = new QComboBox(this);
    m_ways->addItems({tr("all the same way"), tr("by turns, the other way round"), tr("each as the one before went")});
    m_ways->setEnabled(!recipe.headings.empty());
    rows.add(tr("direction"), m_ways);
    m_vary = new QCheckBox(tr("varied"), this);
    setTip(m_vary, tr("Direction, strength and length differ from cut to cut; another seed, another variation"));
    m_seed = new NumberField(this);
    m_seed->setUnit({}, 0, 1);
    m_seed->setRange(1, 99999);
    m_seed->setValue(1);
    m_seed->setFixedWidth(62);
    m_seed->setAccessibleName(tr("Seed of the variation"));
    auto* line = new QWidget(this);
    auto* layout = new QHBoxLayout(line);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(m_vary);
    layout->addWidget(label(tr("seed"), "caption", this));
    layout->addWidget(m_seed);
    layout->addStretch(1);
    rows.add({}, line);
    m_step = new NumberField(this);
    m_step->setUnit(tr(" f"), 0, 1);
    m_step->setRange(1, 1000);
    m_step->setValue(use.step > 0 ? use.step : std::max(1, recipe.step));
    m_step->setFixedWidth(62);
    m_step->setAccessibleName(tr("Frames from shot to shot"));
    QLabel* stepCaption = rows.add(tr("step"), m_step);
    for (QWidget* w : std::initializer_list<QWidget*>{m_step, stepCaption}) w->setVisible(recipe.step > 0);
    m_linked = new QCheckBox(tr("stay linked to the recipe"), this);
    m_linked->setChecked(linked);
    rows.add({}, m_linked);
    m_words = label({}, "caption", this);
    m_words->setWordWrap(true);
    rows.add({}, m_words);
    rows.add({}, buttonsFor(this, tr("Use"), &m_take));
    rows.end();
    for (QComboBox* box : {m_which, m_every, m_ways})
        connect(box, &QComboBox::currentIndexChanged, this, &ManyCutsDialog::refresh);
    for (QCheckBox* box : {m_vary, m_linked}) connect(box, &QCheckBox::toggled, this, &ManyCutsDialog::refresh);
    for (NumberField* f : {m_seed, m_step}) connect(f, &NumberField::edited, this, &ManyCutsDialog::refresh);
    connect(m_take, &QPushButton::clicked, this, [this] {
        m_document->tryOut(nullptr);
        RecipeUse one = m_use;
        if (m_recipe.step > 0) one.step = int(m_step->value());
        applyRecipeToCuts(*m_document, cuts(), m_recipe, one, how());
        accept();
    });
    refresh();
}

ManyCutsDialog::~ManyCutsDialog() {
    m_document->tryOut(nullptr);
}

std::vector<int> ManyCutsDialog::cuts() const {
    const auto project = m_document->project();
    std::vector<int> all(std::size_t(cutCount(*project)));
    std::iota(all.begin(), all.end(), 0);
    switch (m_which->currentIndex()) {
    case 1:
        return chosenCuts(*m_document);
    case 2:
        std::erase_if(all, [&](int c) { return !transitionAt(*project, c).moves.empty(); });
        return all;
    case 3:
        return cutsOf(*project, m_recipe.id);
    default:
        return all;
    }
}

ManyCuts ManyCutsDialog::how() const {
    ManyCuts how;
    how.every = m_every->currentIndex() + 1;
    how.alternate = m_ways->currentIndex() == 1;
    how.carryOn = m_ways->currentIndex() == 2;
    how.seed = m_vary->isChecked() ? std::uint32_t(m_seed->value()) : 0;
    how.linked = m_linked->isChecked();
    return how;
}

void ManyCutsDialog::refresh() {
    m_seed->setEnabled(m_vary->isChecked());
    RecipeUse one = m_use;
    if (m_recipe.step > 0) one.step = int(m_step->value());
    const auto uses = usesAt(*m_document->project(), cuts(), m_recipe, one, how());
    m_take->setEnabled(!uses.empty());
    m_words->setText(uses.empty() ? tr("There is no such cut.")
                                  : tr("At %1. The reel shows it as long as this window is open.")
                                        .arg(counted(qint64(uses.size()), "cut", "cuts")));
    m_document->tryOut(uses.empty() ? nullptr
                                    : std::make_shared<const Project>(
                                          withRecipeOnCuts(*m_document->project(), cuts(), m_recipe, one, how())));
}

PasteDialog::PasteDialog(const Recipe& copied, int cut, QWidget* parent) : QDialog(parent) {
    setWindowTitle(tr("Paste moves to cut %1").arg(cut + 1));
    setObjectName("pasteMoves");
    auto* column = new QVBoxLayout(this);
    auto* words = label(tr("What goes along? The rest stays at the cut as it is."), "caption", this);
    column->addWidget(words);
    m_parts = new PartsBox(copied, this);
    column->addWidget(m_parts);
    QPushButton* paste = nullptr;
    column->addWidget(buttonsFor(this, tr("Paste"), &paste));
    connect(paste, &QPushButton::clicked, this, &QDialog::accept);
    connect(m_parts, &PartsBox::changed, this, [this, paste] {
        paste->setEnabled(!(parts() == RecipeParts{false, false, false, false, false, false, false}));
    });
}

} // namespace virga
