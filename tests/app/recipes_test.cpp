// Recipes in the window: cards, the large view, linked cuts, dialogs, files.
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QDialog>
#include <QElapsedTimer>
#include <QFile>
#include <QGuiApplication>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSettings>
#include <QSlider>
#include <QTimer>

#include "app/commands/cut_commands.h"
#include "app/commands/recipe_commands.h"
#include "app/cut/recipe_link_box.h"
#include "app/flow/flow_panel.h"
#include "app/lanes/lanes_view.h"
#include "app/recipes/recipe_card.h"
#include "app/recipes/recipe_sheet.h"
#include "app/recipes/recipes_panel.h"
#include "app/reel/reel_view.h"
#include "app/window/notice_bar.h"
#include "app/window/recipe_actions.h"
#include "app/window/tab_panel.h"
#include "core/recipe/shelf.h"
#include "tests/app/window_fixture.h"

namespace virga::test::recipes_test {
namespace {

class RecipesWindow : public WindowTest {
protected:
    void SetUp() override {
        QSettings().remove("recipes");
        std::filesystem::remove_all(recipeFolder());
        WindowTest::SetUp();
    }
    RecipesPanel* panel() { return m_window->findChild<RecipesPanel*>(); }
    RecipeGrid* grid() { return panel()->grid(); }
    RecipeCard* card(const char* id) { return grid()->card(id); }
    RecipeSheet* sheet() { return m_window->views().recipeSheet; }
    // Five clips, four cuts without moves.
    void openFive() {
        Project p = withOwnClips(twoClips());
        for (int i = 2; i < 5; ++i) {
            Clip more = p.reel[std::size_t(i % 2)];
            more.id = "clip-" + std::to_string(90 + i);
            p.reel.push_back(more);
        }
        open(p);
        settle();
    }
    double endOf(int cut) { return transitionAt(project(), cut).moves[0].channels.at(0).outgoing.keys.back().value; }
    static QPushButton* buttonIn(QWidget* in, const QString& text) {
        for (auto* b : in->findChildren<QPushButton*>())
            if (b->text() == text) return b;
        return nullptr;
    }
    static QLineEdit* fieldIn(QWidget* in, const QString& name) {
        for (auto* f : in->findChildren<QLineEdit*>())
            if (f->accessibleName() == name) return f;
        return nullptr;
    }
    static QComboBox* boxWith(QWidget* in, const QString& text) {
        for (auto* b : in->findChildren<QComboBox*>())
            if (b->findText(text) >= 0) return b;
        return nullptr;
    }
    static QCheckBox* checkIn(QWidget* in, const QString& text) {
        for (auto* b : in->findChildren<QCheckBox*>())
            if (b->text() == text) return b;
        return nullptr;
    }
};

TEST_F(RecipesWindow, CardsShowTheCutsOwnShotsAndAreUsedByAClick) {
    openStill();
    settle();
    RecipeCard* plunge = card("plunge");
    EXPECT_EQ(grid()->cards().front(), plunge) << "the everyday ones first";
    EXPECT_EQ(plunge->text(), "Plunge");
    EXPECT_TRUE(plunge->hasFrame(plunge->atRest()));
    ASSERT_TRUE(waitFor([&] { return plunge->hasFrame(0) && plunge->hasFrame(RecipeCard::pictures - 1); }));
    click(plunge, plunge->rect().center());
    ASSERT_EQ(transitionAt(project(), 0).moves.size(), 1u);
    EXPECT_EQ(curve(Side::Outgoing).keys.back().value, 2.5);
    EXPECT_EQ(curve(Side::Outgoing).keys.front().time, -5);
    EXPECT_EQ(document().undoStack()->undoText(), "recipe Plunge");
    ASSERT_TRUE(transitionAt(project(), 0).link);
    EXPECT_EQ(project().recipes.size(), 1u) << "it comes along with the project";
    click(plunge, plunge->rect().center(), Qt::ShiftModifier);
    EXPECT_NEAR(curve(Side::Outgoing).keys.back().value, 0.4, 1e-9) << "the other way round";
    key(Qt::Key_Z, Qt::ControlModifier);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(transitionAt(project(), 0).moves.empty());
    EXPECT_TRUE(project().recipes.empty());
}

TEST_F(RecipesWindow, WithoutACutTheyAreOff) {
    EXPECT_FALSE(card("plunge")->isEnabled());
    openStill();
    EXPECT_TRUE(waitFor([this] { return card("plunge")->isEnabled(); }, 3000));
    EXPECT_FALSE(card("pop-up")->isEnabled()) << "that is for an overlay";
}

TEST_F(RecipesWindow, ACardTellsHowStrongItIsAndItsCopiesAtThisCut) {
    openStill();
    RecipeCard* plunge = grid()->card("plunge");
    ASSERT_TRUE(plunge);
    ASSERT_TRUE(waitFor([&] { return plunge->toolTip().contains("At this cut"); }, 10000));
    const CutShowing shows = showingAtCut(withRecipe(project(), 0, *findRecipe("plunge")), 0);
    EXPECT_GT(shows.fastest, 10);
    EXPECT_GT(shows.copies, 2);
    EXPECT_TRUE(plunge->toolTip().contains(QString("up to %1 % of the width").arg(shows.fastest, 0, 'f', 0)))
        << plunge->toolTip().toStdString();
    EXPECT_TRUE(plunge->toolTip().contains(QString("on %1 frames").arg(shows.copies)));
}

TEST_F(RecipesWindow, TheyAreFoundByWordsAndGroups) {
    openStill();
    settle();
    QTest::keyClicks(panel()->search(), "fold");
    ASSERT_FALSE(grid()->cards().empty());
    QTest::keyClick(panel()->search(), Qt::Key_Return);
    ASSERT_EQ(transitionAt(project(), 0).moves.size(), 2u) << "Enter uses the first";
    panel()->search()->clear();
    QTest::keyClick(panel()->search(), Qt::Key_Down, Qt::ShiftModifier);
    const QString next = grid()->chosen();
    EXPECT_NE(next, "fold");
    QTest::keyClick(panel()->search(), Qt::Key_Return);
    EXPECT_EQ(transitionAt(project(), 0).link->recipe, next.toStdString()) << "or the one that was chosen by arrows";
    QTest::keyClicks(panel()->search(), "zoom hard");
    for (RecipeCard* one : grid()->cards())
        EXPECT_TRUE(one->id() == "snap-zoom" || one->id() == "jolt") << one->id().toStdString();
    panel()->search()->clear();
    auto* groups = panel()->findChild<QComboBox*>();
    groups->setCurrentIndex(groups->findText("turn"));
    for (RecipeCard* one : grid()->cards()) EXPECT_EQ(one->recipe().group, "turn");
    EXPECT_GE(grid()->cards().size(), 5u);
    groups->setCurrentIndex(groups->findText("recent"));
    ASSERT_EQ(grid()->cards().size(), 2u);
    EXPECT_EQ(grid()->cards()[1]->id(), "fold");
    groups->setCurrentIndex(groups->findText("mine"));
    EXPECT_TRUE(grid()->cards().empty());
}

TEST_F(RecipesWindow, AStarMakesAFavourite) {
    openStill();
    settle();
    RecipeCard* swing = card("swing");
    bringIntoSight(swing);
    click(swing, swing->starRect().center());
    EXPECT_TRUE(transitionAt(project(), 0).moves.empty()) << "the star uses nothing";
    EXPECT_EQ(grid()->cards().front(), swing);
    auto* groups = panel()->findChild<QComboBox*>();
    groups->setCurrentIndex(groups->findText("favourites"));
    EXPECT_EQ(grid()->cards().size(), 1u);
    EXPECT_EQ(QSettings().value("recipes/favourites").toStringList(), QStringList{"swing"}) << "kept for next time";
    click(swing, swing->starRect().center());
    EXPECT_TRUE(grid()->cards().empty());
}

TEST_F(RecipesWindow, AllMoveWhereThatIsWished) {
    openStill();
    settle();
    RecipeCard* plunge = card("plunge");
    EXPECT_FALSE(plunge->isMoving());
    panel()->setAlwaysMoving(true);
    ASSERT_TRUE(plunge->isMoving());
    // At least twelve pictures a second.
    const int from = plunge->shown();
    int steps = 0, last = from;
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < 500) {
        QTest::qWait(5);
        if (plunge->shown() != last) ++steps, last = plunge->shown();
    }
    EXPECT_GE(steps, 3);
    panel()->setAlwaysMoving(false);
    EXPECT_FALSE(plunge->isMoving());
}

TEST_F(RecipesWindow, InLargeItIsTriedBeforeItIsUsed) {
    openStill();
    settle();
    key(Qt::Key_R, Qt::AltModifier);
    ASSERT_TRUE(sheet()->isVisible());
    EXPECT_EQ(sheet()->grid()->chosen(), "plunge");
    ASSERT_TRUE(document().isTrying()) << "seen at the cut at once";
    EXPECT_EQ(transitionAt(*document().shown(), 0).moves[0].channels[0].outgoing.keys.back().value, 2.5);
    EXPECT_TRUE(transitionAt(project(), 0).moves.empty());
    auto* detail = sheet()->detail();
    ASSERT_TRUE(waitFor([&] {
        for (auto* l : detail->findChildren<QLabel*>())
            if (l->text() == "clean at this cut") return true;
        return false;
    }));
    type(qobject_cast<NumberField*>(fieldIn(detail, "Strength")), "50");
    EXPECT_NEAR(transitionAt(*document().shown(), 0).moves[0].channels[0].outgoing.keys.back().value, std::sqrt(2.5),
                1e-9);
    type(qobject_cast<NumberField*>(fieldIn(detail, "Frames before the cut; also in beats, as 1 b")), "7");
    EXPECT_EQ(transitionAt(*document().shown(), 0).moves[0].channels[0].outgoing.keys.front().time, -7);
    auto* heading = boxWith(detail, "out");
    ASSERT_TRUE(heading);
    heading->setFocus();
    QTest::keyClick(heading, Qt::Key_Down);
    EXPECT_LT(transitionAt(*document().shown(), 0).moves[0].channels[0].outgoing.keys.back().value, 1);
    sheet()->setFocus();
    QTest::keyClick(sheet(), Qt::Key_Escape);
    EXPECT_FALSE(sheet()->isVisible());
    EXPECT_FALSE(document().isTrying());
    EXPECT_EQ(document().undoStack()->count(), 0) << "nothing was changed";
}

TEST_F(RecipesWindow, TheLargeViewGoesByKeys) {
    openStill();
    settle();
    m_window->windowLayout()->showRecipes();
    const auto cards = sheet()->grid()->cards();
    QTest::keyClick(sheet(), Qt::Key_Right);
    EXPECT_EQ(sheet()->grid()->chosen(), cards[1]->id());
    QTest::keyClick(sheet(), Qt::Key_Down);
    const QString below = sheet()->grid()->chosen();
    EXPECT_NE(below, cards[1]->id());
    QTest::keyClick(sheet(), Qt::Key_Up);
    EXPECT_EQ(sheet()->grid()->chosen(), cards[1]->id());
    QTest::keyClick(sheet(), Qt::Key_S); // a letter searches
    QTest::keyClicks(sheet()->search(), "wing");
    EXPECT_EQ(sheet()->grid()->chosen(), "swing");
    QTest::keyClick(sheet()->search(), Qt::Key_Return);
    EXPECT_FALSE(sheet()->isVisible());
    ASSERT_EQ(transitionAt(project(), 0).moves.size(), 1u);
    EXPECT_EQ(transitionAt(project(), 0).link->recipe, "swing");
    // Opened again it stands at the cut's recipe.
    m_window->windowLayout()->showRecipes();
    EXPECT_EQ(sheet()->search()->text(), "swing");
    sheet()->search()->clear();
    EXPECT_EQ(sheet()->grid()->chosen(), "swing");
    sheet()->close();
}

TEST_F(RecipesWindow, AChangeAtACutIsItsOwnUntilItIsGivenToTheRecipe) {
    openFive();
    for (const int cut : {0, 1, 2}) {
        document().select({Selection::CutSelected, cut, {}});
        applyRecipe(document(), *findRecipe("plunge"));
    }
    document().select({Selection::CutSelected, 0, {}});
    setCurve(
        document(), {0, 0, 0, Side::Outgoing},
        [&] {
            Curve c = curve(Side::Outgoing);
            c.keys.back().value = 4;
            return c;
        }(),
        "change value");
    EXPECT_EQ(endOf(1), 2.5);
    m_window->views().tabs->showTab(Layout::ClipTab);
    auto* box = m_window->findChild<RecipeLinkBox*>();
    const auto says = [&](const QString& words) {
        for (auto* l : box->findChildren<QLabel*>())
            if (l->text().contains(words)) return true;
        return false;
    };
    EXPECT_TRUE(says("2 other cuts follow it too")) << "how many";
    EXPECT_TRUE(says("Changed here: Zoom, outgoing"));
    bringIntoSight(buttonIn(box, "Give to the recipe"));
    QTest::mouseClick(buttonIn(box, "Give to the recipe"), Qt::LeftButton);
    EXPECT_EQ(endOf(0), 4);
    EXPECT_EQ(endOf(1), 4);
    EXPECT_EQ(endOf(2), 4);
    EXPECT_FALSE(says("Changed here"));
    document().undoStack()->undo();
    EXPECT_EQ(endOf(0), 4);
    EXPECT_EQ(endOf(1), 2.5) << "one step";
    QTest::mouseClick(buttonIn(box, "Drop changes"), Qt::LeftButton);
    EXPECT_EQ(endOf(0), 2.5);
    QTest::mouseClick(buttonIn(box, "Cut loose"), Qt::LeftButton);
    EXPECT_FALSE(transitionAt(project(), 0).link);
    EXPECT_TRUE(transitionAt(project(), 1).link);
}

TEST_F(RecipesWindow, EditingALinkedCutEditsTheRecipeWhereThatIsWished) {
    openFive();
    for (const int cut : {0, 1}) {
        document().select({Selection::CutSelected, cut, {}});
        applyRecipe(document(), *findRecipe("plunge"));
    }
    m_window->views().tabs->showTab(Layout::ClipTab);
    auto* box = m_window->findChild<RecipeLinkBox*>();
    auto* edits = checkIn(box, "edits here go to the recipe");
    bringIntoSight(edits);
    click(edits, {8, edits->height() / 2.0});
    ASSERT_TRUE(document().editsRecipe());
    // By typing in the lane of the second cut.
    NumberField* end = nullptr;
    for (auto* f : m_window->views().lanes->findChildren<NumberField*>())
        if (f->isVisible() && f->hasValue() && f->value() == 2.5) end = f;
    ASSERT_TRUE(end);
    type(end, "3.2");
    EXPECT_NEAR(endOf(1), 3.2, 1e-9);
    EXPECT_NEAR(endOf(0), 3.2, 1e-9) << "the other one follows";
    EXPECT_TRUE(transitionAt(project(), 1).link->own.empty());
    document().undoStack()->undo();
    EXPECT_EQ(endOf(0), 2.5);
    EXPECT_EQ(endOf(1), 2.5);
}

TEST_F(RecipesWindow, ACutIsKeptAsARecipe) {
    openPlunge();
    settle();
    inDialog(
        [&](QDialog* dialog) {
            auto* keep = buttonIn(dialog, "Keep");
            EXPECT_FALSE(keep->isEnabled()) << "without a name";
            QTest::keyClicks(fieldIn(dialog, "Name of the recipe"), "Gun shot");
            QTest::keyClicks(fieldIn(dialog, "Tags, with commas between them"), "start, hard");
            EXPECT_FALSE(checkIn(dialog, "finishing")->isEnabled()) << "there is none";
            QTest::mouseClick(keep, Qt::LeftButton);
        },
        [&] { action("Keep as recipe…")->trigger(); });
    const Shelf shelf = shelfIn(recipeFolder());
    ASSERT_EQ(shelf.recipes.size(), 1u);
    EXPECT_EQ(shelf.recipes[0].name, "Gun shot");
    EXPECT_EQ(shelf.recipes[0].tags, (std::vector<std::string>{"start", "hard"}));
    ASSERT_TRUE(transitionAt(project(), 0).link);
    EXPECT_EQ(transitionAt(project(), 0).link->recipe, "gun-shot");
    EXPECT_EQ(transitionAt(project(), 0).moves[0].recipeMove, "m1");
    ASSERT_TRUE(card("gun-shot"));
    EXPECT_EQ(curve(Side::Outgoing).keys.back().value, 2.5) << "the cut is as it was";
}

TEST_F(RecipesWindow, OneGoesOnManyCuts) {
    openFive();
    document().select({Selection::CutSelected, 1, {}});
    m_window->windowLayout()->showRecipes("half-slide");
    inDialog(
        [&](QDialog* dialog) {
            auto* ways = boxWith(dialog, "by turns, the other way round");
            ways->setCurrentIndex(1);
            EXPECT_TRUE(document().isTrying());
            QTest::mouseClick(buttonIn(dialog, "Use"), Qt::LeftButton);
        },
        [&] {
            auto* more = buttonIn(sheet()->detail(), "On more cuts…");
            bringIntoSight(more);
            QTest::mouseClick(more, Qt::LeftButton);
        });
    for (int cut = 0; cut < 4; ++cut) {
        ASSERT_EQ(transitionAt(project(), cut).moves.size(), 1u) << cut;
        const double end = transitionAt(project(), cut).moves[0].channels[1].outgoing.keys.back().value;
        EXPECT_EQ(end, cut % 2 == 0 ? -0.5 : 0.5) << cut;
        EXPECT_TRUE(transitionAt(project(), cut).link);
    }
    EXPECT_EQ(document().undoStack()->count(), 1);
    EXPECT_FALSE(document().isTrying());
}

TEST_F(RecipesWindow, MovesArePastedByChoice) {
    openFive();
    applyRecipe(document(), *findRecipe("flash"), {}, false);
    key(Qt::Key_C, Qt::ControlModifier);
    document().select({Selection::CutSelected, 2, {}});
    inDialog(
        [&](QDialog* dialog) {
            auto* movement = checkIn(dialog, "movement");
            QTest::mouseClick(movement, Qt::LeftButton, {}, QPoint(8, movement->height() / 2));
            EXPECT_FALSE(movement->isChecked());
            QTest::mouseClick(buttonIn(dialog, "Paste"), Qt::LeftButton);
        },
        [&] { action("Paste moves by choice…")->trigger(); });
    ASSERT_EQ(transitionAt(project(), 2).moves.size(), 1u);
    EXPECT_EQ(transitionAt(project(), 2).moves[0].kind, MoveKind::Light);
    QGuiApplication::clipboard()->setText("nothing");
    action("Paste moves by choice…")->trigger();
    EXPECT_TRUE(m_window->notice()->text().contains("no moves of a cut")) << m_window->notice()->text().toStdString();
}

TEST_F(RecipesWindow, FilesAreDroppedInAndWhatIsWrongIsSaid) {
    openStill();
    settle();
    Recipe recipe = *findRecipe("swing");
    recipe.id = "their-swing", recipe.name = "Their swing";
    ASSERT_TRUE(saveRecipe(recipe, at("their-swing.virga-recipe").toStdString()));
    dropFiles(m_window.get(), {400, 300}, {at("their-swing.virga-recipe")});
    ASSERT_TRUE(card("their-swing"));
    EXPECT_EQ(grid()->chosen(), "their-swing");
    EXPECT_TRUE(m_window->notice()->text().contains("Their swing"));
    QFile bad(at("bad.virga-recipe"));
    ASSERT_TRUE(bad.open(QIODevice::WriteOnly));
    bad.write("{\"format\":\"virga-recipe\"}");
    bad.close();
    dropFiles(m_window.get(), {400, 300}, {at("bad.virga-recipe")});
    EXPECT_TRUE(m_window->notice()->text().contains("bad.virga-recipe")) << m_window->notice()->text().toStdString();
    // The same name with another content gets an id of its own.
    recipe.transition.moves[0].channels[0].outgoing.keys.back().value = -99;
    ASSERT_TRUE(saveRecipe(recipe, at("their-swing.virga-recipe").toStdString()));
    m_window->recipes()->read({at("their-swing.virga-recipe")});
    EXPECT_TRUE(card("their-swing-2"));
    EXPECT_EQ(shelfIn(recipeFolder()).recipes.size(), 2u);
}

TEST_F(RecipesWindow, TheReelTellsWhatFollowsARecipe) {
    openFive();
    for (const int cut : {0, 2}) {
        document().select({Selection::CutSelected, cut, {}});
        applyRecipe(document(), *findRecipe("plunge"));
    }
    settle();
    auto* reel = m_window->views().reel;
    moveTo(reel, {5, 5});
    const QImage before = reel->grab().toImage();
    moveTo(reel, reel->jointCentre(0));
    EXPECT_TRUE(reel->toolTip().contains("Follows the recipe Plunge")) << reel->toolTip().toStdString();
    const QImage after = reel->grab().toImage();
    const auto differs = [&](int cut) {
        const QRect around(reel->jointCentre(cut) - QPoint(13, 13), QSize(26, 26));
        return before.copy(around) != after.copy(around);
    };
    EXPECT_TRUE(differs(2)) << "the other one lights up";
    EXPECT_FALSE(differs(1));
}

} // namespace
} // namespace virga::test::recipes_test
