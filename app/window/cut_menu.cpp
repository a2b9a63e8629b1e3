// The menu Cut, with recipes and ramps.
#include <QMenu>
#include <QToolButton>

#include "app/commands/cut_commands.h"
#include "app/commands/recipe_commands.h"
#include "app/commands/reel_commands.h"
#include "app/commands/speed_commands.h"
#include "app/document/words.h"
#include "app/lanes/lanes_view.h"
#include "app/style/plain_text.h"
#include "app/window/command_table.h"
#include "app/window/layout.h"
#include "app/window/main_window.h"
#include "app/window/menus.h"
#include "app/window/movement_actions.h"
#include "app/window/notice_bar.h"
#include "app/window/recipe_actions.h"
#include "app/window/services.h"

namespace virga {
namespace {

using Condition = std::function<bool()>;

// One submenu for each group, so that none is longer than the screen. Built-in ones can have keys.
void addRecipes(CommandTable& t, MainWindow* w, const QStringList& in, const Condition& has) {
    RecipeActions* recipes = w->recipes();
    for (const Recipe& recipe : builtInRecipes()) {
        if (recipe.place != RecipePlace::Cut) continue;
        t.in(in + QStringList(QString::fromStdString(recipe.group)));
        const QString id = QString::fromStdString(recipe.id), name = QString::fromStdString(recipe.name);
        t.add(
            "recipe." + id, name, {}, [recipes, id] { recipes->use(id, false); }, has);
        if (recipe.headings.size() > 1)
            t.add(
                "recipe." + id + ".other-way", t.tr("%1, the other way round").arg(name), {},
                [recipes, id] { recipes->use(id, true); }, has);
    }
    QMenu* own = t.menu(in + QStringList(t.tr("mine")));
    QObject::connect(own, &QMenu::aboutToShow, recipes, [recipes, own] { recipes->fillOwn(own); });
}

void addFollowed(CommandTable& t, MainWindow* w) {
    Document* d = w->document();
    const Condition linked = [d] {
        const auto project = d->project();
        const int c = d->cut();
        return c >= 0 && c < cutCount(*project) && transitionAt(*project, c).link.has_value();
    };
    t.add(
        "recipes.fold", t.tr("Give this cut's changes to its recipe"), {}, [d] { foldOwn(*d, d->cut()); }, linked);
    t.add(
        "recipes.drop", t.tr("Drop this cut's changes"), {}, [d] { dropOwn(*d, d->cut()); }, linked);
    t.add(
        "recipes.cut-loose", t.tr("Cut loose from its recipe"), {}, [d] { cutLink(*d, d->cut()); }, linked);
    t.addToggle(
        "recipes.edit", t.tr("Edits here go to the recipe"), {}, [d] { d->setEditsRecipe(!d->editsRecipe()); },
        [d] { return d->editsRecipe(); }, linked);
    QObject::connect(d, &Document::editsRecipeChanged, &t, &CommandTable::refresh);
}

void addRamps(CommandTable& t, MainWindow* w, const Condition& has) {
    Document* d = w->document();
    const auto ramp = [&t, w, d](const Ramp* out, const Ramp* in) {
        if (const QString said = rampAtCut(*d, d->cut(), out, in); !said.isEmpty())
            w->notice()->tell(t.tr("Ramp"), said);
    };
    const RampPreset& usual = rampPresets().front();
    t.add(
        "ramp.through", t.tr("Through the cut"), QKeySequence("Ctrl+Alt+R"),
        [ramp, &usual] { ramp(&usual.out, &usual.in); }, has);
    t.add(
        "ramp.into", t.tr("Into the cut"), {}, [ramp, &usual] { ramp(&usual.out, nullptr); }, has);
    t.add(
        "ramp.out-of", t.tr("Out of the cut"), {}, [ramp, &usual] { ramp(nullptr, &usual.in); }, has);
    t.separator();
    for (std::size_t i = 1; i < rampPresets().size(); ++i) {
        const RampPreset& preset = rampPresets()[i];
        QString name = textOf(preset.name);
        name[0] = name[0].toUpper();
        setTip(t.add(
                   "ramp." + textOf(preset.name), name, {}, [ramp, &preset] { ramp(&preset.out, &preset.in); }, has),
               textOf(preset.purpose));
    }
    t.separator();
    t.add(
        "ramp.remove", t.tr("Remove the ramps"), {}, [d] { removeRamps(*d, d->cut()); }, has);
}

} // namespace

void addCutCommands(CommandTable& t, MainWindow& window) {
    MainWindow* w = &window;
    Document* d = w->document();
    LanesView* lanes = w->views().lanes;
    RecipeActions* recipes = w->recipes();
    const Condition has = [d] { return d->cut() >= 0; };
    const QString cut = t.tr("Cut");
    t.in({cut});
    for (std::size_t i = 0; i < 3; ++i) { // the plainest three, and all others in their field
        const MoveInfo& info = allMoves()[i];
        t.add(
            "cut.add-" + textOf(info.name), t.tr("Add %1").arg(textOf(info.label).toLower()), {},
            [d, kind = info.kind] { addMove(*d, d->cut(), kind); }, has);
    }
    t.add(
        "cut.moves", t.tr("All moves and finishing…"), {}, [lanes] { lanes->offerMoves(lanes->addButton()); }, has);
    t.separator();
    addRecipes(t, w, {cut, t.tr("Recipe")}, has);
    t.in({cut});
    t.add(
        "recipes.large", t.tr("Recipes in large…"), QKeySequence("Alt+R"), [w] { w->windowLayout()->showRecipes(); },
        has);
    t.add(
        "recipes.keep", t.tr("Keep as recipe…"), QKeySequence("Alt+Shift+R"), [recipes] { recipes->keep(); }, has);
    t.in({cut, t.tr("The recipe that it follows")});
    addFollowed(t, w);
    t.in({cut});
    t.add(
        "recipes.paste", t.tr("Paste moves by choice…"), QKeySequence("Alt+V"), [recipes] { recipes->pasteByChoice(); },
        has);
    t.add("recipes.read", t.tr("Read recipe files…"), {}, [recipes] { recipes->chooseToRead(); });
    t.separator();
    t.add(
        "cut.crossfade", t.tr("Crossfade"), QKeySequence("Ctrl+Shift+K"), [d] { crossfade(*d, d->cut(), 12); }, has);
    t.add(
        "cut.match", t.tr("Match all speeds"), QKeySequence("Ctrl+M"),
        [d, lanes] {
            const QString why = matchAll(*d, d->cut());
            if (!why.isEmpty()) emit lanes->problem(why);
        },
        has);
    t.add(
        "cut.carrying", t.tr("Find a cut that carries on…"), {}, [w] { w->movement()->findCarryingCut(); }, has);
    t.add(
        "cut.clear", t.tr("Remove the cut's moves"), {}, [d] { clearTransition(*d, d->cut()); }, has);
    t.separator();
    t.in({cut, t.tr("Ramp speed")});
    addRamps(t, w, has);
    t.in({cut});
    t.separator();
    t.add(
        "cut.earlier", t.tr("Move the cut one frame earlier"), QKeySequence("Ctrl+Left"),
        [d] { rollCut(*d, d->cut(), -1); }, has);
    t.add(
        "cut.later", t.tr("Move the cut one frame later"), QKeySequence("Ctrl+Right"),
        [d] { rollCut(*d, d->cut(), 1); }, has);
    t.separator();
    const auto step = [d](int by) {
        const auto project = d->project();
        const int cuts = cutCount(*project);
        if (cuts == 0) return;
        const int to = std::clamp(d->cut() + by, 0, cuts - 1);
        d->select({Selection::CutSelected, to, {}});
        d->setPlayhead(cutFrame(*project, to));
    };
    t.add("cut.previous", t.tr("Previous cut"), Qt::Key_Up, [step] { step(-1); });
    t.add("cut.next", t.tr("Next cut"), Qt::Key_Down, [step] { step(1); });
}

} // namespace virga
