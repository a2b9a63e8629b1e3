// Recipes in the window: how soon every card of the large view shows its picture after a cut was selected, how soon all
// its pictures are there to move, what a drag in the Lanes costs meanwhile; and how long 300 linked cuts take to follow
// their recipe, beside copying the project by the JSON library in the same run. Usage: recipes_benchmark PROJECT
// (offscreen or under Xvfb)
#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <algorithm>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "app/recipes/recipe_card.h"
#include "app/recipes/recipe_sheet.h"
#include "app/style/theme.h"
#include "app/window/main_window.h"
#include "app/window/project_files.h"
#include "core/curve/curve_edit.h"
#include "core/edit/move_edits.h"
#include "core/project/project_json.h"
#include "core/recipe/link.h"
#include "core/recipe/many.h"

using namespace virga;

namespace {

void wait(const std::function<bool()>& done, int milliseconds) {
    QElapsedTimer clock;
    clock.start();
    while (!done() && clock.elapsed() < milliseconds) QApplication::processEvents(QEventLoop::AllEvents, 5);
}

void linkedCuts() {
    Project p;
    p.settings = {.size = {1280, 720}, .rate = 25};
    p.media = {Media{.id = "m", .path = "/nowhere.png", .size = {1280, 720}, .still = true}};
    for (int i = 0; i <= 300; ++i) {
        Clip clip;
        clip.id = "clip-" + std::to_string(i);
        clip.mediaId = "m";
        clip.length = 40 + i % 7;
        p.reel.push_back(clip);
    }
    std::vector<int> cuts;
    for (int i = 0; i < 300; ++i) cuts.push_back(i);
    QElapsedTimer clock;
    clock.start();
    p = withRecipeOnCuts(p, cuts, *findRecipe("roll-and-plunge"), {}, {});
    fmt::print("a recipe put on 300 cuts: {:.1f} ms\n", double(clock.nsecsElapsed()) / 1e6);
    const CurveAddress at{150, 0, 0, Side::Outgoing};
    double longest = 0, sum = 0;
    Project now = p;
    for (int i = 0; i < 20; ++i) {
        const Project edited = withCurve(now, at, withKeyMoved(curveAt(now, at), 1, 0, 2 + 0.05 * i));
        clock.start();
        now = withEditFolded(now, edited);
        const double ms = double(clock.nsecsElapsed()) / 1e6;
        longest = std::max(longest, ms), sum += ms;
    }
    clock.start();
    const auto copy = fromJson(documentOf(p, {}), {}, "copy");
    const double json = double(clock.nsecsElapsed()) / 1e6;
    fmt::print("an edit reaches 300 linked cuts: {:.1f} ms on the mean, {:.1f} at most (asked: 100); the same project "
               "through nlohmann/json once: {:.1f} ms{}\n",
               sum / 20, longest, json, copy ? "" : " (failed)");
}

} // namespace

int main(int argc, char** argv) {
    if (argc < 2) return 2;
    QTemporaryDir home;
    for (const char* name : {"XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME"}) qputenv(name, home.path().toUtf8());
    linkedCuts();
    QApplication app(argc, argv);
    QApplication::setStyle("Fusion");
    useTheme("night");
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    if (!window.files()->open(QString::fromLocal8Bit(argv[1]), false)) return 2;
    wait([&] { return window.isSettled(); }, 60000);
    window.windowLayout()->showRecipes("plunge");
    wait([&] { return window.isSettled(); }, 60000);
    Document* document = window.document();
    std::map<QString, std::pair<int, double>> rendered;
    QObject::connect(&window.services().frames, &FrameService::ready, &window,
                     [&](const QString& slot, const FrameResult& r) {
                         auto& one = rendered[slot.section('/', 0, 0)];
                         ++one.first, one.second += r.milliseconds;
                     });
    for (const int cut : {3, 1, 4}) {
        for (RecipeCard* card : window.views().recipeSheet->grid()->cards()) card->clearFrames();
        QElapsedTimer clock;
        clock.start();
        document->select({Selection::CutSelected, cut, {}});
        QApplication::processEvents();
        const auto inSight = [&] {
            std::vector<RecipeCard*> seen;
            for (RecipeCard* card : window.views().recipeSheet->grid()->cards())
                if (!card->visibleRegion().isEmpty()) seen.push_back(card);
            return seen;
        }();
        wait(
            [&] {
                return std::all_of(inSight.begin(), inSight.end(),
                                   [](RecipeCard* c) { return c->hasFrame(c->atRest()); });
            },
            30000);
        const auto first = clock.elapsed();
        // A drag in the Lanes while the others are made.
        double longest = 0;
        const CurveAddress at{cut, 0, 0, Side::Outgoing};
        if (hasCurve(*document->project(), at) && !curveAt(*document->project(), at).isEmpty()) {
            const Curve curve = curveAt(*document->project(), at);
            for (int i = 0; i < 20; ++i) {
                QElapsedTimer step;
                step.start();
                document->drag(withCurve(*document->dragOrigin(), at,
                                         withKeyMoved(curve, 0, curve.keys[0].time, curve.keys[0].value + 0.001 * i)));
                QApplication::processEvents();
                longest = std::max(longest, double(step.nsecsElapsed()) / 1e6);
            }
            document->cancelDrag();
        }
        wait(
            [&] {
                return std::all_of(inSight.begin(), inSight.end(), [](RecipeCard* c) {
                    for (int i = 0; i < RecipeCard::pictures; ++i)
                        if (!c->hasFrame(i)) return false;
                    return true;
                });
            },
            60000);
        fmt::print(
            "cut {}: {} cards in sight, their pictures at rest after {} ms (asked: 2000), all {} to move after {} "
            "ms; the longest step of a drag meanwhile {:.1f} ms\n",
            cut + 1, inSight.size(), first, inSight.size() * RecipeCard::pictures, clock.elapsed(), longest);
    }
    for (const auto& [slot, sum] : rendered)
        fmt::print("{}: {} pictures, {:.1f} ms each\n", slot.toStdString(), sum.first, sum.second / sum.first);
    window.close();
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    return 0;
}
