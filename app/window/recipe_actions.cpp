#include "app/window/recipe_actions.h"

#include <QClipboard>
#include <QFileDialog>
#include <QGuiApplication>
#include <QInputDialog>
#include <QMenu>
#include <QMessageBox>
#include <QSettings>

#include "app/commands/recipe_commands.h"
#include "app/document/words.h"
#include "app/recipes/recipe_dialogs.h"
#include "app/recipes/recipe_sheet.h"
#include "app/recipes/recipes_panel.h"
#include "app/style/plain_text.h"
#include "app/window/layout.h"
#include "app/window/notice_bar.h"
#include "app/window/services.h"
#include "app/window/tab_panel.h"

namespace virga {

RecipeActions::RecipeActions(Services& services, Layout& layout, NoticeBar* notice, QWidget* window)
    : QObject(window), m_services(services), m_layout(layout), m_notice(notice), m_window(window) {
    RecipesPanel* panel = layout.views().recipes;
    RecipeSheet* sheet = layout.views().recipeSheet;
    connect(panel, &RecipesPanel::menuWanted, this, &RecipeActions::showMenu);
    connect(sheet, &RecipeSheet::menuWanted, this, &RecipeActions::showMenu);
    connect(sheet, &RecipeSheet::manyWanted, this, &RecipeActions::putOnMoreCuts);
    connect(sheet, &RecipeSheet::alwaysMovingChanged, panel, &RecipesPanel::setAlwaysMoving);
    const auto follow = [this] { m_services.recipes.setProjectRecipes(m_services.document.project()->recipes); };
    connect(&services.document, &Document::projectChanged, this, follow);
    follow();
}

void RecipeActions::use(const QString& id, bool otherWay) {
    const Recipe* found = m_services.recipes.find(id);
    if (!found || m_services.document.cut() < 0) return;
    const Recipe recipe = *found; // noting that it was used may make the list anew
    applyRecipe(m_services.document, recipe, otherWay ? opposite(recipe, {}) : RecipeUse{},
                QSettings().value("recipes/linked", true).toBool());
    m_services.recipes.noteUsed(id);
}

void RecipeActions::fillOwn(QMenu* menu) {
    menu->clear();
    for (const Recipe& recipe : m_services.recipes.recipes()) {
        const QString id = QString::fromStdString(recipe.id);
        if (recipe.place != RecipePlace::Cut || !m_services.recipes.isOwn(id)) continue;
        connect(menu->addAction(menuText(shown(recipe.name))), &QAction::triggered, this,
                [this, id] { use(id, false); });
    }
    if (menu->isEmpty()) menu->addAction(tr("none yet: keep a cut as one"))->setEnabled(false);
}

void RecipeActions::keep() {
    const auto whole = recipeFrom(*m_services.document.project(), m_services.document.cut(), "recipe");
    if (!whole) return m_notice->tell(tr("Nothing was kept."), QString::fromStdString(describe(whole.error())));
    KeepRecipeDialog(&m_services.document, &m_services.recipes, m_window).exec();
}

void RecipeActions::putOnMoreCuts(const QString& id, const RecipeUse& use) {
    const Recipe* recipe = m_services.recipes.find(id);
    if (!recipe) return;
    const bool wasOpen = m_layout.views().recipeSheet->isVisible();
    if (wasOpen) m_layout.views().recipeSheet->detail()->setTrying(false);
    ManyCutsDialog dialog(&m_services.document, *recipe, use, QSettings().value("recipes/linked", true).toBool(),
                          m_window);
    const bool used = dialog.exec() == QDialog::Accepted;
    if (used) m_services.recipes.noteUsed(id);
    if (!wasOpen) return;
    if (used)
        m_layout.views().recipeSheet->close();
    else
        m_layout.views().recipeSheet->detail()->setTrying(true);
}

void RecipeActions::pasteByChoice() {
    const auto recipe = recipeInCopy(QGuiApplication::clipboard()->text().toStdString());
    if (!recipe) return m_notice->tell(tr("Nothing was pasted."), QString::fromStdString(describe(recipe.error())));
    PasteDialog dialog(*recipe, m_services.document.cut(), m_window);
    if (dialog.exec() == QDialog::Accepted)
        pasteParts(m_services.document, m_services.document.cut(), *recipe, dialog.parts());
}

void RecipeActions::read(const QStringList& files) {
    QStringList read;
    QString last;
    for (const QString& file : files) {
        auto recipe = m_services.recipes.take(file);
        if (!recipe) {
            m_notice->tell(tr("A recipe was not read."), QString::fromStdString(describe(recipe.error())));
            continue;
        }
        read << shown(recipe->name);
        last = QString::fromStdString(recipe->id);
    }
    if (read.isEmpty()) return;
    m_layout.views().tabs->showTab(Layout::RecipesTab);
    m_layout.views().recipes->grid()->choose(last);
    m_notice->tell(tr("Recipes read"), tr("%1: among your own, and kept in their folder.").arg(read.join(", ")));
}

void RecipeActions::write(const QString& id) {
    const Recipe* recipe = m_services.recipes.find(id);
    if (!recipe) return;
    const Recipe copy = *recipe;
    const QString suffix = QString::fromUtf8(recipeSuffix.data(), int(recipeSuffix.size()));
    QString path =
        QFileDialog::getSaveFileName(m_window, tr("Write the recipe"), id + suffix, tr("Recipes (*.virga-recipe)"));
    if (path.isEmpty()) return;
    if (!path.endsWith(suffix)) path += suffix;
    if (const auto done = saveRecipe(copy, path.toStdString()); !done)
        m_notice->tell(tr("The recipe was not written."), QString::fromStdString(describe(done.error())));
}

// A built-in one stays as it is: what was made of it gets a name of its own.
void RecipeActions::keepInShelf(const QString& id) {
    const Recipe* recipe = m_services.recipes.find(id);
    if (!recipe) return;
    Recipe copy = *recipe;
    if (!m_services.recipes.isOwn(id)) {
        copy.name += " (mine)";
        if (const auto added = m_services.recipes.add(copy); !added)
            m_notice->tell(tr("The recipe was not kept."), QString::fromStdString(describe(added.error())));
        return;
    }
    if (const auto done = m_services.recipes.put(copy); !done)
        m_notice->tell(tr("The recipe was not kept."), QString::fromStdString(describe(done.error())));
}

void RecipeActions::showMenu(const QString& id, const QPoint& at) {
    const Recipe* found = m_services.recipes.find(id);
    if (!found) return;
    const Recipe recipe = *found;
    const bool can = canUse(m_services.document, recipe), linked = QSettings().value("recipes/linked", true).toBool();
    QMenu menu(m_window);
    const auto add = [&](const QString& text, bool enabled, auto action) {
        QAction* a = menu.addAction(text);
        a->setEnabled(enabled);
        connect(a, &QAction::triggered, this, action);
        return a;
    };
    const auto use = [this, recipe, id, linked](const RecipeUse& how) {
        m_services.document.tryOut(nullptr);
        applyRecipe(m_services.document, recipe, how, linked);
        m_services.recipes.noteUsed(id);
    };
    add(tr("Use here"), can, [use] { use({}); });
    add(tr("Use here, the other way round"), can, [use, recipe] { use(opposite(recipe, {})); });
    add(tr("On more cuts…"), can && recipe.place == RecipePlace::Cut, [this, id] { putOnMoreCuts(id, {}); });
    if (!m_layout.views().recipeSheet->isVisible())
        add(tr("Strength, length, direction…"), true, [this, id] { m_layout.showRecipes(id); });
    menu.addSeparator();
    QAction* favourite = add(tr("Favourite"), true,
                             [this, id] { m_services.recipes.setFavourite(id, !m_services.recipes.isFavourite(id)); });
    favourite->setCheckable(true);
    favourite->setChecked(m_services.recipes.isFavourite(id));
    QAction* moving = add(tr("All pictures move"), true, [this] {
        const bool on = !RecipesPanel::alwaysMoving();
        m_layout.views().recipes->setAlwaysMoving(on);
        m_layout.views().recipeSheet->grid()->setAlwaysMoving(on);
    });
    moving->setCheckable(true);
    moving->setChecked(RecipesPanel::alwaysMoving());
    menu.addSeparator();
    add(tr("Write to a file…"), true, [this, id] { write(id); });
    if (!m_services.recipes.isOnShelf(recipe))
        add(tr("Keep this state among my recipes"), true, [this, id] { keepInShelf(id); });
    if (m_services.recipes.isOwn(id)) {
        add(tr("Rename…"), true, [this, recipe] {
            const QString name = QInputDialog::getText(m_window, tr("Rename the recipe"), tr("Name"), QLineEdit::Normal,
                                                       QString::fromStdString(recipe.name))
                                     .trimmed();
            if (name.isEmpty()) return;
            Recipe named = recipe;
            named.name = name.toStdString();
            if (const auto done = m_services.recipes.put(named); !done)
                m_notice->tell(tr("The recipe was not renamed."), QString::fromStdString(describe(done.error())));
            if (findRecipe(*m_services.document.project(), named.id)) changeRecipe(m_services.document, named);
        });
        add(tr("Remove from my recipes…"), true, [this, id, recipe] {
            MessageBox ask(QMessageBox::Question, tr("Remove a recipe"),
                           tr("Remove \"%1\" from your recipes? Cuts that follow it in projects stay as they are.")
                               .arg(shown(recipe.name)),
                           QMessageBox::Yes | QMessageBox::Cancel, m_window);
            if (ask.exec() != QMessageBox::Yes) return;
            if (const auto done = m_services.recipes.remove(id); !done)
                m_notice->tell(tr("The recipe was not removed."), QString::fromStdString(describe(done.error())));
        });
    }
    menu.exec(at);
}

void RecipeActions::chooseToRead() {
    read(QFileDialog::getOpenFileNames(m_window, tr("Read recipes"), {}, tr("Recipes (*.virga-recipe)")));
}

} // namespace virga
