// Results made in parts and at once, presets, parts for other programs, movement as numbers, farms.
#include <csignal>
#include <fstream>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <sys/wait.h>
#include <unistd.h>

#include "core/audio/audio_mix.h"
#include "core/audio/audio_reader.h"
#include "core/base/file.h"
#include "core/base/json_schema.h"
#include "core/decode/probe.h"
#include "core/decode/video_reader.h"
#include "core/edit/edits.h"
#include "core/export/check_result.h"
#include "core/export/export_preset.h"
#include "core/export/farm.h"
#include "core/export/movement_data.h"
#include "core/export/parts.h"
#include "core/export/untouched.h"
#include "core/interchange/edit_file.h"
#include "core/plan/plan.h"
#include "core/plan/seen_speed.h"
#include "core/project/project_file.h"
#include "core/raster/transfer.h"
#include "core/recipe/recipe.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"
#include "tests/support/projects.h"

namespace virga::chunks_test {
namespace {

using namespace test;
using nlohmann::json;

class Deliver : public testing::Test {
protected:
    static void SetUpTestSuite() { // drawn once; every test has links to them
        s_shots = new TemporaryFolder;
        writeNumberedClip(*s_shots / "a.mp4", {320, 180}, 25, 200, 12, true);
        writeNumberedClip(*s_shots / "b.mp4", {320, 180}, 25, 200, 12, true);
    }
    static void TearDownTestSuite() {
        delete s_shots;
        s_shots = nullptr;
    }
    void SetUp() override {
        for (const char* name : {"a.mp4", "b.mp4"}) fs::create_hard_link(*s_shots / name, m_folder / name);
        m_project = plungeProject(m_folder / "a.mp4", m_folder / "b.mp4");
        for (Media& m : m_project.media) m.size = {320, 180}, m.sound = true, m.duration = 8;
        for (Clip& c : m_project.reel) c.length = 110;
        m_project.settings.size = {320, 180};
        m_settings.path = m_folder / "out.mp4";
        m_settings.quality = 20;
    }
    int filesHere() { return int(std::distance(fs::directory_iterator(m_folder.path()), fs::directory_iterator())); }
    ExportPlan plan() {
        auto p = planExport(m_project, m_settings);
        EXPECT_TRUE(p) << describe(p.error());
        return *p;
    }
    static TemporaryFolder* s_shots;
    TemporaryFolder m_folder;
    Project m_project;
    ExportSettings m_settings;
    SourcePool m_pool;
};

TemporaryFolder* Deliver::s_shots = nullptr;

TEST_F(Deliver, ChunksDependOnTheRateAlone) {
    EXPECT_EQ(chunkLength(25), 100);
    EXPECT_EQ(chunkLength(Rational(30000, 1001)), 120);
    EXPECT_EQ(plan().chunks(), 3);
    EXPECT_EQ(plan().chunkFrom(2), 200);
    EXPECT_EQ(plan().chunkFrom(3), 220);
    m_settings.from = 30;
    EXPECT_EQ(plan().chunks(), 2);
    EXPECT_EQ(plan().chunkFrom(1), 130);
    m_settings.format = DeliveryFormat::Gif;
    EXPECT_EQ(plan().chunks(), 1);
}

TEST_F(Deliver, AJoinedExportIsTheOneMadeAtOnce) {
    ASSERT_TRUE(exportReel(m_project, m_settings, m_pool));
    const auto whole = readFile(m_settings.path);
    fs::remove(m_settings.path);
    const auto early = joinChunks(m_project, m_settings);
    ASSERT_FALSE(early);
    EXPECT_NE(early.error().message.find("3 chunks are not there yet, the first is 0"), std::string::npos);
    for (const int k : {2, 0, 1}) {
        const auto done = exportChunk(m_project, m_settings, k, m_pool);
        ASSERT_TRUE(done) << describe(done.error());
        EXPECT_EQ(done->frames, k == 2 ? 20 : 100);
    }
    EXPECT_EQ(exportChunk(m_project, m_settings, 1, m_pool)->frames, 0) << "what is there stays";
    EXPECT_TRUE(missingChunks(plan()).empty());
    const auto joined = joinChunks(m_project, m_settings);
    ASSERT_TRUE(joined) << describe(joined.error());
    EXPECT_TRUE(*readFile(m_settings.path) == *whole);
    EXPECT_EQ(filesHere(), 3) << "the chunks are gone";
    EXPECT_NE(exportChunk(m_project, m_settings, 3, m_pool).error().remedy.find("0 to 2"), std::string::npos);
}

TEST_F(Deliver, ChunksOfAChangedProjectAreOthers) {
    const auto before = chunkPaths(plan());
    Project p = m_project;
    p.reel[1].transition.moves[0].channels[0].incoming.keys[0].value = 0.7;
    m_project = p;
    EXPECT_NE(chunkPaths(plan())[0], before[0]);
    m_settings.quality = 21;
    EXPECT_NE(chunkPaths(plan())[0], before[0]);
}

// A program that is killed at any moment leaves no half file under a final name; the next run clears up.
TEST_F(Deliver, KilledAtAnyMomentNothingHalfIsLeft) {
    m_settings.size = {160, 90};
    m_settings.to = 130;
    ASSERT_TRUE(exportReel(m_project, m_settings, m_pool));
    const auto whole = *readFile(m_settings.path);
    fs::remove(m_settings.path);
    unsigned seed = 19;
    const auto draw = [&] { return (seed = seed * 1664525u + 1013904223u) >> 8; };
    const std::string program = std::string(VIRGA_BINARY_DIR) + "/cli/virga-cli";
    const fs::path file = m_folder / "p.virga";
    ASSERT_TRUE(saveProject(m_project, file));
    int killed = 0;
    for (int round = 0; round < 50; ++round) {
        const int kind = round % 3;
        std::vector<std::string> words{program,
                                       kind == 2 ? "join" : "render",
                                       file.string(),
                                       "--out",
                                       m_settings.path.string(),
                                       "--size",
                                       "160x90",
                                       "--frames",
                                       "0-129",
                                       "--quality",
                                       "20",
                                       "--quiet"};
        if (kind == 1) words.insert(words.end(), {"--chunk", std::to_string(draw() % 2)});
        if (kind == 2)
            for (int k = 0; k < 2; ++k) ASSERT_TRUE(exportChunk(m_project, m_settings, k, m_pool));
        std::vector<char*> argv;
        for (std::string& w : words) argv.push_back(w.data());
        argv.push_back(nullptr);
        const pid_t child = ::fork();
        ASSERT_GE(child, 0) << "no process could be begun"; // kill(-1) would end every process of the user
        if (child == 0) {
            ::freopen("/dev/null", "w", stdout);
            ::freopen("/dev/null", "w", stderr);
            ::execv(argv[0], argv.data());
            ::_exit(127);
        }
        ::usleep(useconds_t(5000 + draw() % (kind == 2 ? 250000 : 900000)));
        ::kill(child, SIGKILL);
        int status = 0;
        ASSERT_EQ(::waitpid(child, &status, 0), child);
        killed += WIFSIGNALED(status) && WTERMSIG(status) == SIGKILL; // else it had ended by itself
        if (fs::exists(m_settings.path)) {
            ASSERT_TRUE(*readFile(m_settings.path) == whole) << "round " << round;
            fs::remove(m_settings.path);
        }
        if (fs::exists(chunkFolder(m_settings.path)))
            for (const auto& path : chunkPaths(plan()))
                if (fs::exists(path)) ASSERT_TRUE(probe(path)) << "round " << round << ": a half chunk";
    }
    std::printf("killed while at work: %d of 50\n", killed);
    EXPECT_GT(killed, 15) << "many were killed while they were at work";
    for (int k = 0; k < 2; ++k) ASSERT_TRUE(exportChunk(m_project, m_settings, k, m_pool));
    const auto joined = joinChunks(m_project, m_settings);
    ASSERT_TRUE(joined) << describe(joined.error());
    EXPECT_TRUE(*readFile(m_settings.path) == whole);
    for (const auto& entry : fs::directory_iterator(m_folder.path()))
        EXPECT_NE(entry.path().filename().string().front(), '.') << entry.path() << " was left behind";
}

TEST_F(Deliver, AnotherRateSamplesTheMovementAnew) {
    m_settings.rate = 50;
    m_settings.format = DeliveryFormat::Ffv1;
    m_settings.path = m_folder / "fifty.mkv";
    const ExportPlan fifty = plan();
    EXPECT_EQ(fifty.frames(), 440);
    EXPECT_EQ(fifty.encoder.soundLength, std::int64_t(440) * audioRate / 50);
    // Half a frame before the cut there is a frame of its own, where the zoom is half a frame farther.
    const auto zoomAt = [](const Project& p, std::int64_t n) {
        const FramePlan f = planFrame(p, n);
        return movementAt(f.layers.front(), double(n), {320, 180}).matrix()[0][0];
    };
    const double before = zoomAt(m_project, 108), after = zoomAt(m_project, 109);
    const double between = zoomAt(fifty.project, 217);
    EXPECT_GT(between, before + 0.1 * (after - before));
    EXPECT_LT(between, after - 0.1 * (after - before));
    EXPECT_NEAR(zoomAt(fifty.project, 216), before, 1e-6);
    m_settings.from = 100, m_settings.to = 120;
    EXPECT_EQ(plan().from, 200);
    EXPECT_EQ(plan().to, 240);
    const auto done = exportReel(m_project, m_settings, m_pool);
    ASSERT_TRUE(done) << describe(done.error());
    EXPECT_EQ(probe(m_settings.path)->video->rate, Rational(50));
    EXPECT_EQ(probe(m_settings.path)->video->frames, 40);
}

// What goes through untouched is what the long way makes, within a code value, and only what rests does.
TEST_F(Deliver, FramesAtRestGoThroughUntouched) {
    const ExportPlan p = plan();
    int untouched = 0;
    for (const std::int64_t n : {0, 40, 90, 103, 106, 109, 110, 115, 124, 150, 219}) {
        const FramePlan frame = planFrame(p.project, n);
        const CodedPicture coded = untouchedPicture(p, frame, m_pool);
        const bool rests = n < 104 || n > 122;
        ASSERT_EQ(bool(coded), rests) << n;
        if (!rests) continue;
        ++untouched;
        // Both encoded without loss, and read again.
        EncoderSettings e = p.encoder;
        e.quality = 0;
        e.sound = false;
        const auto rendered = renderDeepPlan(p.project, frame, e.size, exactQuality, m_pool);
        ASSERT_TRUE(rendered);
        std::vector<std::string> raw;
        for (const bool direct : {true, false}) {
            auto encoder = Encoder::open(m_folder / "one.mp4", e);
            ASSERT_TRUE(encoder);
            ASSERT_TRUE(direct ? (*encoder)->addFrame(coded) : (*encoder)->addFrame(rendered->view()));
            ASSERT_TRUE((*encoder)->finish());
            ASSERT_TRUE(ffmpeg("-i " + (m_folder / "one.mp4").string() + " -f rawvideo -pix_fmt yuv420p " +
                               (m_folder / "one.yuv").string()));
            raw.push_back(*readFile(m_folder / "one.yuv"));
        }
        ASSERT_EQ(raw[0].size(), std::size_t(320 * 180 * 3 / 2));
        ASSERT_EQ(raw[0].size(), raw[1].size());
        int luma = 0, chroma = 0;
        double sum = 0;
        for (std::size_t i = 0; i < raw[0].size(); ++i) {
            const int off = std::abs(int(std::uint8_t(raw[0][i])) - int(std::uint8_t(raw[1][i])));
            (i < 320 * 180 ? luma : chroma) = std::max(i < 320 * 180 ? luma : chroma, off);
            sum += off;
        }
        EXPECT_LE(luma, 1) << n;
        // The long way takes chroma to every pixel and back, which smooths it beside edges of full colour.
        EXPECT_LE(chroma, 12) << n;
        EXPECT_LT(sum / double(raw[0].size()), 0.4) << n;
    }
    EXPECT_EQ(untouched, 7);
    m_settings.depth = 10;
    EXPECT_FALSE(untouchedPicture(plan(), planFrame(p.project, 0), m_pool)) << "8 bits are not 10";
    m_settings.depth = 8;
    m_settings.size = {160, 90};
    EXPECT_FALSE(untouchedPicture(plan(), planFrame(p.project, 0), m_pool)) << "another size";
}

TEST_F(Deliver, AResultThatIsNotWhatWasAskedIsFound) {
    ASSERT_TRUE(exportReel(m_project, m_settings, m_pool));
    ExportPlan p = plan();
    EXPECT_TRUE(checkResult(p));
    const auto says = [&](const ExportPlan& other, const char* words) {
        const auto wrong = checkResult(other);
        ASSERT_FALSE(wrong) << words;
        EXPECT_NE(describe(wrong.error()).find(words), std::string::npos) << describe(wrong.error());
    };
    ExportPlan other = p;
    other.to -= 1;
    says(other, "220 frames in place of 219");
    other = p;
    other.encoder.size = {640, 360};
    says(other, "320 x 180");
    other = p;
    other.encoder.soundLength += audioRate;
    says(other, "sound");
    fs::resize_file(m_settings.path, 3000);
    EXPECT_FALSE(checkResult(p));
}

TEST_F(Deliver, AlphaIsThatOfThePiece) {
    m_project.reel[0].edges = EdgeFill::Empty;
    m_project.reel[0].placement.scale = 0.5; // a quarter of the frame is covered
    m_settings.format = DeliveryFormat::Png;
    m_settings.path = m_folder / "f.png";
    m_settings.from = 3, m_settings.to = 4;
    m_settings.alpha = true;
    m_settings.quality = -1;
    ASSERT_TRUE(exportReel(m_project, m_settings, m_pool));
    auto reader = VideoReader::open(m_folder / "f_0003.png");
    ASSERT_TRUE(reader);
    const auto picture = (*reader)->read(0);
    ASSERT_TRUE(picture);
    EXPECT_EQ(picture->at(2, 2).a, 0);
    EXPECT_EQ(picture->at(160, 90).a, linearOne);
    m_settings.alpha = false;
    ASSERT_TRUE(exportReel(m_project, m_settings, m_pool));
    EXPECT_EQ(VideoReader::open(m_folder / "f_0003.png").value()->read(0)->at(2, 2).a, linearOne) << "over black";
}

TEST_F(Deliver, PresetsComeBackAsTheyWere) {
    for (ExportPreset p : builtInPresets()) {
        ASSERT_TRUE(settled(p.delivery)) << p.name;
        p.builtIn = false;
        const auto back = presetFromText(presetText(p), "x");
        ASSERT_TRUE(back) << describe(back.error());
        EXPECT_TRUE(*back == p) << p.name;
    }
    ExportPreset mine;
    mine.name = "Night: crew";
    mine.delivery = {.format = DeliveryFormat::Exr, .quality = 0, .depth = 16, .alpha = true};
    mine.shortSide = 1080;
    mine.rate = Rational(24000, 1001);
    mine.enlarging = Enlarging::Lanczos;
    const fs::path folder = m_folder / "presets";
    ASSERT_TRUE(keepPreset(mine, folder));
    ASSERT_TRUE(writeFileAtomically(folder / "broken.virga-export", "{\"virga\": \"export\", \"name\": 3}"));
    std::vector<std::string> problems;
    const auto kept = presetsIn(folder, &problems);
    ASSERT_EQ(kept.size(), 1u);
    EXPECT_EQ(sizeOf(kept[0], {1280, 720}), (Size{1920, 1080}));
    EXPECT_EQ(kept[0].rate, mine.rate);
    ASSERT_EQ(problems.size(), 1u);
    EXPECT_NE(problems[0].find("\"name\""), std::string::npos) << problems[0];
    EXPECT_FALSE(keepPreset({.name = "Upload"}, folder)) << "ours stay ours";
    EXPECT_TRUE(findPreset("night: CREW", folder));
    // Names that differ in a letter outside ASCII or in case only are presets of their own.
    for (const char* name : {"Prüfung", "Pröfung", "NIGHT: crew"}) {
        ExportPreset other = mine;
        other.name = name;
        ASSERT_TRUE(keepPreset(other, folder)) << name;
    }
    EXPECT_EQ(presetsIn(folder).size(), 4u);
    EXPECT_EQ(findPreset("NIGHT: crew", folder)->name, "NIGHT: crew");
    EXPECT_TRUE(removePreset("NIGHT: crew", folder));
    EXPECT_EQ(presetsIn(folder).size(), 3u);
    EXPECT_EQ(findPreset("night: crew", folder)->name, "Night: crew");
    EXPECT_NE(findPreset("nobody", folder).error().remedy.find("Master"), std::string::npos);
    // What is written is what the published schema says.
    const json rules = json::parse(*readFile(fs::path(VIRGA_SOURCE_DIR) / "core/export/export-preset.schema.json"));
    const JsonSchema schema(rules);
    const json text = json::parse(presetText(mine)),
               bad = json::parse(R"({"virga":"export","version":1,"name":"a","format":"avi"})");
    EXPECT_TRUE(schema.allows(text));
    EXPECT_FALSE(schema.allows(bad));
    for (const FormatInfo& f : deliveryFormats()) // the schema knows every format
        EXPECT_NE(rules["properties"]["format"]["enum"].dump().find("\"" + std::string(f.id) + "\""), std::string::npos)
            << f.id;
}

TEST_F(Deliver, PartsReplaceWhatMovesAndNothingElse) {
    PartsSettings s;
    static_cast<ExportSettings&>(s) = m_settings;
    s.path = m_folder / "reel.mkv";
    s.format = DeliveryFormat::Ffv1;
    s.handles = 6;
    const auto report = exportParts(m_project, s, m_pool);
    ASSERT_TRUE(report) << describe(report.error());
    ASSERT_EQ(report->parts.size(), 1u);
    const Part& part = report->parts[0];
    EXPECT_EQ(part.path.filename(), "reel-cut-01.mkv");
    EXPECT_LE(part.from, 105);
    EXPECT_GE(part.to, 122);
    EXPECT_EQ(part.fileFrom, part.from - 6);
    EXPECT_EQ(probe(part.path)->video->frames, part.fileTo - part.fileFrom);
    // Its frames are the piece's, bit by bit.
    auto reader = VideoReader::open(part.path);
    ASSERT_TRUE(reader);
    const auto want = renderFrame(m_project, 112, {320, 180}, exactQuality, m_pool);
    const auto got = (*reader)->read(112 - part.fileFrom);
    ASSERT_TRUE(want && got);
    for (int x = 0; x < 320; x += 37) {
        Rgba8 code;
        encodeRow(got->row(50) + x, &code, 1);
        EXPECT_EQ(code, want->at(x, 50)) << x;
    }
    // The timeline: clips below, the part above, where it belongs.
    const auto timeline = readEditFile(report->timeline, Project());
    ASSERT_TRUE(timeline) << describe(timeline.error());
    ASSERT_EQ(timeline->project.overlays.size(), 1u);
    EXPECT_EQ(timeline->project.overlays[0].start, part.from);
    EXPECT_EQ(timeline->project.overlays[0].clip.length, part.to - part.from);
    EXPECT_TRUE(timeline->project.reel[1].transition.moves.empty());
    // The list: one row without a gap, as long as the piece.
    const auto list = readEditFile(report->list, Project());
    ASSERT_TRUE(list) << describe(list.error());
    EXPECT_EQ(reelLength(list->project), 220);
    ASSERT_EQ(list->project.reel.size(), 3u);
    EXPECT_EQ(list->project.reel[0].length, part.from);
    EXPECT_EQ(list->project.reel[1].sourceIn, Rational(6, 25)) << "after its handle";
    EXPECT_EQ(list->project.reel[2].sourceIn, m_project.reel[1].sourceIn + Rational(part.to - 110, 25));
    m_project.reel[1].transition.moves.clear();
    EXPECT_NE(describe(exportParts(m_project, s, m_pool).error()).find("no cut has moves"), std::string::npos);
}

// Outside its parts a piece shows the same without the moves that parts replace: with every recipe for cuts, on every
// frame.
TEST_F(Deliver, PartsCoverAllThatTheirMovesChange) {
    constexpr Size small{64, 36};
    for (const Recipe& recipe : builtInRecipes()) {
        if (recipe.place != RecipePlace::Cut) continue;
        SCOPED_TRACE(recipe.name);
        Project p = m_project;
        for (Clip& c : p.reel) c.transition = {}, c.length = 60, c.sourceIn = 1;
        p = withRecipe(p, placeFor(recipe, 0), recipe);
        PartsSettings s;
        static_cast<ExportSettings&>(s) = m_settings;
        const auto parts = partsOf(p, s);
        ASSERT_TRUE(parts) << describe(parts.error());
        Project plain = withPartsAbove(p, *parts);
        plain.overlays.clear(); // the parts' own pictures are the direct render's
        for (std::int64_t n = 0; n < reelLength(p); ++n) {
            if (n >= parts->front().from && n < parts->front().to) continue;
            const auto want = renderFrame(p, n, small, exactQuality, m_pool),
                       got = renderFrame(plain, n, small, exactQuality, m_pool);
            ASSERT_TRUE(want && got);
            bool same = true;
            for (int y = 0; y < small.height; ++y)
                same = same && std::equal(want->row(y), want->row(y) + small.width, got->row(y));
            EXPECT_TRUE(same) << "frame " << n << ", the part is " << parts->front().from << " to "
                              << parts->front().to;
        }
    }
}

// A key on the last frame of a move: the shutter is open before it, and the frame belongs to the part.
TEST_F(Deliver, AKeyOnItsLastFrameBelongsToThePart) {
    m_project.reel[1].transition = {};
    m_project = withMove(m_project, 0, MoveKind::Zoom, 0, 1, 2, 8, 0.6, 1, 8);
    for (Channel& c : m_project.reel[1].transition.moves[0].channels)
        for (Curve* curve : {&c.outgoing, &c.incoming})
            for (Key& k : curve->keys) k.next = Interpolation::Linear;
    const double last = m_project.reel[1].transition.moves[0].channels[0].incoming.keys.back().time;
    PartsSettings s;
    static_cast<ExportSettings&>(s) = m_settings;
    const auto parts = partsOf(m_project, s);
    ASSERT_TRUE(parts);
    EXPECT_EQ(parts->front().to, cutFrame(m_project, 0) + std::int64_t(std::floor(last)) + 1);
}

// Where two shots are seen at once, each is a part of its own, and laid over each other they are the piece.
TEST_F(Deliver, OverlappingShotsArePartsWithAlpha) {
    m_project = withMove(m_project, 0, MoveKind::Fade, 0, 1, 1, 0, 0.2, 1, 6); // the upper one comes in slowly
    m_project.reel[1].transition.overlap = {6, 6};
    PartsSettings s;
    static_cast<ExportSettings&>(s) = m_settings;
    s.path = m_folder / "reel.mkv";
    s.format = DeliveryFormat::Ffv1;
    s.depth = 16;
    s.alpha = true;
    const auto report = exportParts(m_project, s, m_pool);
    ASSERT_TRUE(report) << describe(report.error());
    ASSERT_EQ(report->parts.size(), 2u);
    EXPECT_EQ(report->parts[0].shots, Part::Lower);
    EXPECT_EQ(report->parts[1].path.filename(), "reel-cut-01-upper.mkv");
    auto lower = VideoReader::open(report->parts[0].path), upper = VideoReader::open(report->parts[1].path);
    ASSERT_TRUE(lower && upper);
    for (const int n : {106, 110, 113}) {
        const auto want = renderDeepPlan(m_project, planFrame(m_project, n), {320, 180}, exactQuality, m_pool);
        const auto below = (*lower)->read(n - report->parts[0].fileFrom),
                   above = (*upper)->read(n - report->parts[1].fileFrom);
        ASSERT_TRUE(want && below && above);
        Image<Linear16> sum(320, 180);
        for (int y = 0; y < 180; ++y)
            for (int x = 0; x < 320; ++x) { // premultiplied, "over" (Porter and Duff, SIGGRAPH 1984)
                const Linear16 &a = above->at(x, y), &b = below->at(x, y);
                const double left = 1 - double(a.a) / linearOne;
                const auto over = [&](int u, int l) { return std::uint16_t(std::min(32767.0, u + left * l + 0.5)); };
                sum.at(x, y) = {over(a.r, b.r), over(a.g, b.g), over(a.b, b.b), over(a.a, b.a)};
            }
        double worst = 0;
        for (int y = 0; y < 180; y += 3)
            for (int x = 0; x < 320; x += 3) {
                Deep16 code;
                encodeRow(sum.row(y) + x, &code, 1);
                worst = std::max(worst, std::abs(int(code.g) - int(want->at(x, y).g)) / 219.0);
            }
        EXPECT_LT(worst, 1.5) << "8-bit code values, frame " << n;
    }
}

TEST_F(Deliver, MovementDataSayWhereEveryPixelLands) {
    const auto data = movementData(m_project, 100, 120);
    ASSERT_TRUE(data);
    ASSERT_EQ(data->frames.size(), 20u);
    const json document = json::parse(jsonOf(*data));
    const json rules = json::parse(*readFile(fs::path(VIRGA_SOURCE_DIR) / "core/export/movement-data.schema.json"));
    EXPECT_FALSE(JsonSchema(rules).faultIn(document));
    // By hand: the zoom 1 to 2.5 of the outgoing shot about the middle, at a frame of its last key's.
    for (const json& frame : document["frames"]) {
        const auto n = frame["frame"].get<std::int64_t>();
        const FramePlan f = planFrame(m_project, n);
        const json& layer = frame["layers"][0];
        const auto m = layer["matrix"].get<std::vector<double>>();
        const ScreenMap map = mapAt(f.layers[0], double(n), {320, 180});
        for (const Point& p : {Point(0, 0), Point(320, 0), Point(77, 140)}) {
            const double w = m[6] * p.x + m[7] * p.y + m[8];
            EXPECT_NEAR((m[0] * p.x + m[1] * p.y + m[2]) / w, map.toScreen(p).x, 1e-9);
            EXPECT_NEAR((m[3] * p.x + m[4] * p.y + m[5]) / w, map.toScreen(p).y, 1e-9);
        }
        EXPECT_EQ(layer["clip"], n < 110 ? 0 : 1);
        EXPECT_NEAR(layer["seenSpeed"].get<double>(), seenSpeed(f.layers[0], double(n), {320, 180}), 1e-9);
    }
    bool found = false;
    for (const json& e : document["easings"])
        if (e["side"] == "outgoing" && e["move"] == "zoom") {
            found = true;
            EXPECT_EQ(e["values"], json({1.0, 2.5}));
            EXPECT_EQ(e["space"], "log2");
            EXPECT_EQ(e["css"].get<std::string>().rfind("cubic-bezier(", 0), 0u) << e["css"];
        }
    EXPECT_TRUE(found);
    // A lens stands beside its matrices.
    Project lensed = withMove(m_project, 0, MoveKind::Warp, 0, 0, 0.6, 5, 0.4, 0, 5);
    const auto warped = movementData(lensed, 109, 110);
    ASSERT_TRUE(warped);
    ASSERT_EQ(warped->frames[0].layers[0].lenses.size(), 1u);
    const LayerMovement& l = warped->frames[0].layers[0];
    const FramePlan f = planFrame(lensed, 109);
    const ScreenMap map = mapAt(f.layers[0], 109, {320, 180});
    // Through the numbers alone: what the lens shows at a screen point lies beneath it.
    const Lens lens{{l.lenses[0].x, l.lenses[0].y}, l.lenses[0].radius, l.lenses[0].amount};
    const Point screen = map.toScreen({100, 60}); // `after` is no movement here
    const Point under = beneath(lens, screen);
    const double w = l.matrix[6] * 100 + l.matrix[7] * 60 + l.matrix[8];
    EXPECT_NEAR((l.matrix[0] * 100 + l.matrix[1] * 60 + l.matrix[2]) / w, under.x, 1e-6);
    EXPECT_NEAR((l.matrix[3] * 100 + l.matrix[4] * 60 + l.matrix[5]) / w, under.y, 1e-6);
    const std::string csv = csvOf(*warped);
    const auto commas = [&](std::size_t from, std::size_t to) {
        return std::count(csv.begin() + long(from), csv.begin() + long(to), ',');
    };
    const auto end = csv.find('\n');
    EXPECT_EQ(commas(0, end), commas(end, csv.size())) << csv;
}

TEST(Farm, SaysWhatOtherMachinesCannotSee) {
    TemporaryFolder folder;
    for (const char* name : {"a.mp4", "p.virga"}) std::ofstream(folder / name) << "x";
    Project p = twoClips(folder / "a.mp4", folder / "gone.mp4");
    const auto unseen = unseenElsewhere(p, folder / "p.virga", folder / "out.mp4", {});
    ASSERT_EQ(unseen.size(), 4u);
    EXPECT_NE(unseen[0].find("this machine alone"), std::string::npos);
    EXPECT_NE(unseen[3].find("gone.mp4 is not there"), std::string::npos);
    const auto shared = unseenElsewhere(p, folder / "p.virga", folder / "out.mp4", {folder.path()});
    ASSERT_EQ(shared.size(), 1u) << "what is not there is nowhere";
    fs::create_symlink("/etc/hostname", folder / "b.mp4");
    p.media[1].path = folder / "b.mp4";
    EXPECT_EQ(unseenElsewhere(p, folder / "p.virga", folder / "out.mp4", {folder.path()}).size(), 1u)
        << "a link leads elsewhere";
}

TEST(Farm, FillsInCommandsForTheShell) {
    EXPECT_EQ(rangesText({0, 1, 2, 5, 7, 8}), "0-2,5,7-8");
    EXPECT_EQ(shellQuoted("it's"), "'it'\\''s'");
    const FarmWords words{"n", "0-3", "run '{job}' $X", "/l", "--mem=2G", "12"};
    EXPECT_EQ(filledIn("go {chunks} {options} {command} {job} {other}", words),
              "go 0-3 --mem=2G 'run '\\''{job}'\\'' $X' 12 {other}");
    TemporaryFolder folder;
    std::ofstream(folder / "mine.json") << R"({"index": "$N", "submit": "a", "join": "b"})";
    EXPECT_NE(describe(readScheduler(folder / "mine.json").error()).find("state"), std::string::npos);
    std::ofstream(folder / "mine.json") << R"({"index": "$N", "submit": "a", "join": "b", "state": "c"})";
    EXPECT_EQ(readScheduler(folder / "mine.json")->name, "mine");
}

} // namespace
} // namespace virga::chunks_test
