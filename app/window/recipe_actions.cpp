// Recipes in the window: the large view, the menu, and what is done with one.
#include <QClipboard>
#include <QFileDialog>
#include <QFileInfo>
#include <QGuiApplication>
#include <QInputDialog>
#include <QMenu>
#include <QMessageBox>
#include <QSettings>
#include <QSplitter>

#include "app/commands/recipe_commands.h"
#include "app/document/words.h"
#include "app/ladder/contact_sheet.h"
#include "app/lanes/lanes_view.h"
#include "app/recipes/recipe_dialogs.h"
#include "app/recipes/recipe_sheet.h"
#include "app/recipes/recipes_panel.h"
#include "app/style/plain_text.h"
#include "app/window/main_window.h"
#include "app/window/notice_bar.h"
#include "app/window/selection_panel.h"
#include "app/window/tab_panel.h"
#include "core/edit/move_edits.h"

namespace virga {

void MainWindow::buildRecipeViews() {
    m_recipeSheet = new RecipeSheet(&m_document, &m_frames, m_flow, &m_recipeShelf, this);
    connect(m_recipes, &RecipesPanel::largeWanted, this, &MainWindow::showRecipes);
    connect(m_recipes, &RecipesPanel::menuWanted, this, &MainWindow::showRecipeMenu);
    connect(m_recipeSheet, &RecipeSheet::menuWanted, this, &MainWindow::showRecipeMenu);
    connect(m_recipeSheet, &RecipeSheet::manyWanted, this, &MainWindow::putOnMoreCuts);
    connect(m_recipeSheet, &RecipeSheet::alwaysMovingChanged, m_recipes, &RecipesPanel::setAlwaysMoving);
    connect(m_selectionPanel, &SelectionPanel::recipeWanted, this, &MainWindow::showRecipes);
    connect(m_recipeSheet, &RecipeSheet::closed, this, [this] {
        m_recipes->grid()->setPaused(false);
        if (!m_sizesBeforeRecipes.isEmpty()) m_bands->setSizes(m_sizesBeforeRecipes);
        m_sizesBeforeRecipes.clear();
    });
    const auto follow = [this] { m_recipeShelf.setProjectRecipes(m_document.project()->recipes); };
    connect(&m_document, &Document::projectChanged, this, follow);
    follow();
}

void MainWindow::placeSheets() {
    for (QWidget* sheet : std::initializer_list<QWidget*>{m_sheet, m_recipeSheet})
        if (sheet->isVisible()) sheet->setGeometry({m_middle->mapTo(this, QPoint(0, 0)), m_middle->size()});
}

void MainWindow::showRecipes(const QString& id) {
    if (m_document.project()->reel.empty()) return;
    if (!m_recipeSheet->isVisible() && !m_assembling) {
        // The cards have the room of all lanes but the first.
        m_sizesBeforeRecipes = m_bands->sizes();
        const int lanes = m_lanes->minimumHeight();
        if (const QList<int> now = m_bands->sizes(); now.size() == 3 && now[2] > lanes)
            m_bands->setSizes({now[0], now[1] + now[2] - lanes, lanes});
    }
    m_recipes->grid()->setPaused(true); // it lies beneath
    m_recipeSheet->open({m_middle->mapTo(this, QPoint(0, 0)), m_middle->size()}, id);
}

void MainWindow::buildRecipeMenu(QMenu* cut) {
    const auto has = [this] { return m_document.cut() >= 0; };
    const auto add = [&](const QString& text, const QKeySequence& keys, std::function<void()> action) {
        QAction* a = addCommand(cut, text, keys, std::move(action));
        enableWith(a, has);
        return a;
    };
    m_recipeMenu = cut->addMenu(tr("Recipe"));
    // One submenu for each group, so that none is longer than the screen. Built-in ones can have keys.
    QMap<QString, QMenu*> groups;
    for (const Recipe& recipe : builtInRecipes()) {
        if (recipe.place != RecipePlace::Cut) continue;
        QMenu*& menu = groups[QString::fromStdString(recipe.group)];
        if (!menu) menu = m_recipeMenu->addMenu(QString::fromStdString(recipe.group));
        const QString id = QString::fromStdString(recipe.id), name = QString::fromStdString(recipe.name);
        enableWith(addCommand(menu, name, {}, [this, id] { useRecipe(id, false); }), has);
        if (recipe.headings.size() > 1)
            enableWith(
                addCommand(menu, tr("%1, the other way round").arg(name), {}, [this, id] { useRecipe(id, true); }),
                has);
    }
    m_ownRecipes = m_recipeMenu->addMenu(tr("mine"));
    connect(m_ownRecipes, &QMenu::aboutToShow, this, &MainWindow::fillRecipeMenu);
    m_cutActions.push_back(add(tr("Recipes in large…"), QKeySequence("Alt+R"), [this] { showRecipes(); }));
    m_cutActions.push_back(add(tr("Keep as recipe…"), QKeySequence("Alt+Shift+R"), [this] { keepRecipe(); }));
    const auto linked = [this] {
        const auto project = m_document.project();
        const int c = m_document.cut();
        return c >= 0 && c < cutCount(*project) && transitionAt(*project, c).link.has_value();
    };
    QMenu* followed = cut->addMenu(tr("The recipe that it follows"));
    const auto forLinked = [&](const QString& text, std::function<void()> action) {
        enableWith(addCommand(followed, text, {}, std::move(action)), linked);
    };
    forLinked(tr("Give this cut's changes to its recipe"), [this] { foldOwn(m_document, m_document.cut()); });
    forLinked(tr("Drop this cut's changes"), [this] { dropOwn(m_document, m_document.cut()); });
    forLinked(tr("Cut loose from its recipe"), [this] { cutLink(m_document, m_document.cut()); });
    QAction* edits = addCommand(followed, tr("Edits here go to the recipe"), {},
                                [this] { m_document.setEditsRecipe(!m_document.editsRecipe()); });
    edits->setCheckable(true);
    connect(&m_document, &Document::editsRecipeChanged, edits,
            [this, edits] { edits->setChecked(m_document.editsRecipe()); });
    enableWith(edits, linked);
    add(tr("Paste moves by choice…"), QKeySequence("Alt+V"), [this] { pasteMovesByChoice(); });
    addCommand(cut, tr("Read recipe files…"), {}, [this] {
        readRecipes(QFileDialog::getOpenFileNames(this, tr("Read recipes"), {}, tr("Recipes (*.virga-recipe)")));
    });
    cut->addSeparator();
}

void MainWindow::useRecipe(const QString& id, bool otherWay) {
    const Recipe* found = m_recipeShelf.find(id);
    if (!found || m_document.cut() < 0) return;
    const Recipe recipe = *found; // noting that it was used may make the list anew
    applyRecipe(m_document, recipe, otherWay ? opposite(recipe, {}) : RecipeUse{},
                QSettings().value("recipes/linked", true).toBool());
    m_recipeShelf.noteUsed(id);
}

void MainWindow::fillRecipeMenu() {
    m_ownRecipes->clear();
    for (const Recipe& recipe : m_recipeShelf.recipes()) {
        const QString id = QString::fromStdString(recipe.id);
        if (recipe.place != RecipePlace::Cut || !m_recipeShelf.isOwn(id)) continue;
        connect(m_ownRecipes->addAction(menuText(shown(recipe.name))), &QAction::triggered, this,
                [this, id] { useRecipe(id, false); });
    }
    if (m_ownRecipes->isEmpty()) m_ownRecipes->addAction(tr("none yet: keep a cut as one"))->setEnabled(false);
}

void MainWindow::keepRecipe() {
    const auto whole = recipeFrom(*m_document.project(), m_document.cut(), "recipe");
    if (!whole) return m_notice->tell(tr("Nothing was kept."), QString::fromStdString(describe(whole.error())));
    KeepRecipeDialog(&m_document, &m_recipeShelf, this).exec();
}

void MainWindow::putOnMoreCuts(const QString& id, const RecipeUse& use) {
    const Recipe* recipe = m_recipeShelf.find(id);
    if (!recipe) return;
    const bool wasOpen = m_recipeSheet->isVisible();
    if (wasOpen) m_recipeSheet->detail()->setTrying(false);
    ManyCutsDialog dialog(&m_document, *recipe, use, QSettings().value("recipes/linked", true).toBool(), this);
    const bool used = dialog.exec() == QDialog::Accepted;
    if (used) m_recipeShelf.noteUsed(id);
    if (!wasOpen) return;
    if (used)
        m_recipeSheet->close();
    else
        m_recipeSheet->detail()->setTrying(true);
}

void MainWindow::pasteMovesByChoice() {
    const auto recipe = recipeInCopy(QGuiApplication::clipboard()->text().toStdString());
    if (!recipe) return m_notice->tell(tr("Nothing was pasted."), QString::fromStdString(describe(recipe.error())));
    PasteDialog dialog(*recipe, m_document.cut(), this);
    if (dialog.exec() == QDialog::Accepted) pasteParts(m_document, m_document.cut(), *recipe, dialog.parts());
}

void MainWindow::readRecipes(const QStringList& files) {
    QStringList read;
    QString last;
    for (const QString& file : files) {
        auto recipe = m_recipeShelf.take(file);
        if (!recipe) {
            m_notice->tell(tr("A recipe was not read."), QString::fromStdString(describe(recipe.error())));
            continue;
        }
        read << shown(recipe->name);
        last = QString::fromStdString(recipe->id);
    }
    if (read.isEmpty()) return;
    m_tabs->showTab(RecipesTab);
    m_recipes->grid()->choose(last);
    m_notice->tell(tr("Recipes read"), tr("%1: among your own, and kept in their folder.").arg(read.join(", ")));
}

void MainWindow::writeRecipe(const QString& id) {
    const Recipe* recipe = m_recipeShelf.find(id);
    if (!recipe) return;
    const Recipe copy = *recipe;
    const QString suffix = QString::fromUtf8(recipeSuffix.data(), int(recipeSuffix.size()));
    QString path =
        QFileDialog::getSaveFileName(this, tr("Write the recipe"), id + suffix, tr("Recipes (*.virga-recipe)"));
    if (path.isEmpty()) return;
    if (!path.endsWith(suffix)) path += suffix;
    if (const auto done = saveRecipe(copy, path.toStdString()); !done)
        m_notice->tell(tr("The recipe was not written."), QString::fromStdString(describe(done.error())));
}

// A built-in one stays as it is: what was made of it gets a name of its own.
void MainWindow::keepInShelf(const QString& id) {
    const Recipe* recipe = m_recipeShelf.find(id);
    if (!recipe) return;
    Recipe copy = *recipe;
    if (!m_recipeShelf.isOwn(id)) {
        copy.name += " (mine)";
        if (const auto added = m_recipeShelf.add(copy); !added)
            m_notice->tell(tr("The recipe was not kept."), QString::fromStdString(describe(added.error())));
        return;
    }
    if (const auto done = m_recipeShelf.put(copy); !done)
        m_notice->tell(tr("The recipe was not kept."), QString::fromStdString(describe(done.error())));
}

void MainWindow::showRecipeMenu(const QString& id, const QPoint& at) {
    const Recipe* found = m_recipeShelf.find(id);
    if (!found) return;
    const Recipe recipe = *found;
    const bool can = canUse(m_document, recipe), linked = QSettings().value("recipes/linked", true).toBool();
    QMenu menu(this);
    const auto add = [&](const QString& text, bool enabled, auto action) {
        QAction* a = menu.addAction(text);
        a->setEnabled(enabled);
        connect(a, &QAction::triggered, this, action);
        return a;
    };
    const auto use = [this, recipe, id, linked](const RecipeUse& how) {
        m_document.tryOut(nullptr);
        applyRecipe(m_document, recipe, how, linked);
        m_recipeShelf.noteUsed(id);
    };
    add(tr("Use here"), can, [use] { use({}); });
    add(tr("Use here, the other way round"), can, [use, recipe] { use(opposite(recipe, {})); });
    add(tr("On more cuts…"), can && recipe.place == RecipePlace::Cut, [this, id] { putOnMoreCuts(id, {}); });
    if (!m_recipeSheet->isVisible()) add(tr("Strength, length, direction…"), true, [this, id] { showRecipes(id); });
    menu.addSeparator();
    QAction* favourite =
        add(tr("Favourite"), true, [this, id] { m_recipeShelf.setFavourite(id, !m_recipeShelf.isFavourite(id)); });
    favourite->setCheckable(true);
    favourite->setChecked(m_recipeShelf.isFavourite(id));
    QAction* moving = add(tr("All pictures move"), true, [this] {
        const bool on = !RecipesPanel::alwaysMoving();
        m_recipes->setAlwaysMoving(on);
        m_recipeSheet->grid()->setAlwaysMoving(on);
    });
    moving->setCheckable(true);
    moving->setChecked(RecipesPanel::alwaysMoving());
    menu.addSeparator();
    add(tr("Write to a file…"), true, [this, id] { writeRecipe(id); });
    if (!m_recipeShelf.isOnShelf(recipe))
        add(tr("Keep this state among my recipes"), true, [this, id] { keepInShelf(id); });
    if (m_recipeShelf.isOwn(id)) {
        add(tr("Rename…"), true, [this, recipe] {
            const QString name = QInputDialog::getText(this, tr("Rename the recipe"), tr("Name"), QLineEdit::Normal,
                                                       QString::fromStdString(recipe.name))
                                     .trimmed();
            if (name.isEmpty()) return;
            Recipe named = recipe;
            named.name = name.toStdString();
            if (const auto done = m_recipeShelf.put(named); !done)
                m_notice->tell(tr("The recipe was not renamed."), QString::fromStdString(describe(done.error())));
            if (findRecipe(*m_document.project(), named.id)) changeRecipe(m_document, named);
        });
        add(tr("Remove from my recipes…"), true, [this, id, recipe] {
            MessageBox ask(QMessageBox::Question, tr("Remove a recipe"),
                           tr("Remove \"%1\" from your recipes? Cuts that follow it in projects stay as they are.")
                               .arg(shown(recipe.name)),
                           QMessageBox::Yes | QMessageBox::Cancel, this);
            if (ask.exec() != QMessageBox::Yes) return;
            if (const auto done = m_recipeShelf.remove(id); !done)
                m_notice->tell(tr("The recipe was not removed."), QString::fromStdString(describe(done.error())));
        });
    }
    menu.exec(at);
}

} // namespace virga
