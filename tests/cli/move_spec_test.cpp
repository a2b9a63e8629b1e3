#include "cli/move_spec.h"

#include <gtest/gtest.h>

namespace virga::cli {
namespace {

TEST(MoveSpec, ReadsBothSides) {
    const auto move = moveFromText("zoom:1,2.5|0.62,1@5,12");
    ASSERT_TRUE(move) << describe(move.error());
    EXPECT_EQ(move->kind, MoveKind::Zoom);
    const Channel& c = move->channels[0];
    EXPECT_EQ(c.outgoing.space, Space::Log2);
    EXPECT_EQ(c.outgoing.keys.front().time, -5);
    EXPECT_EQ(c.outgoing.keys.back().value, 2.5);
    EXPECT_EQ(c.outgoing.keys.back().time, 0);
    EXPECT_EQ(c.incoming.keys.front().value, 0.62);
    EXPECT_EQ(c.incoming.keys.back().time, 12);
}

TEST(MoveSpec, KnowsAllKindsAndOneSidedMoves) {
    EXPECT_EQ(moveFromText("spin:0,-90|90,0@8,9")->channels[0].incoming.keys.front().value, 90);
    const auto slide = moveFromText("slide-y:0,-0.5|0.5,0@8,8");
    ASSERT_TRUE(slide);
    EXPECT_TRUE(slide->channels[0].outgoing.isEmpty());
    EXPECT_EQ(slide->channels[1].outgoing.keys.back().value, -0.5);
    EXPECT_TRUE(moveFromText("zoom:1,2|@5,0")->channels[0].incoming.isEmpty());
    EXPECT_TRUE(moveFromText("zoom:|0.5,1@0,5")->channels[0].outgoing.isEmpty());
}

// Every kind by its name, keyed by its usual amount, becomes a move that plans can be made of.
TEST(MoveSpec, KnowsEveryKindOfTheTable) {
    for (const char* name : {"push", "tilt", "swivel", "warp", "shake", "blur", "blur-along", "blur-zoom", "blur-spin",
                             "defocus", "split", "glow", "vignette", "sharpen", "light", "fade", "bars"}) {
        const std::string spec = std::string(name) + ":|0.5,0.2@0,8";
        const auto move = moveFromText(spec);
        ASSERT_TRUE(move) << describe(move.error());
        const int channel = std::string(name) == "swivel" ? 1 : 0;
        EXPECT_EQ(move->channels[std::size_t(channel)].incoming.keys.front().value, 0.5) << name;
        EXPECT_EQ(move->parameters.size(), moveInfo(move->kind).parameters.size()) << "at their defaults";
        EXPECT_NE(moveNames().find(name), std::string::npos);
    }
    EXPECT_NE(describe(moveFromText("warp:|1.2,0@0,8").error()).find("not between"), std::string::npos)
        << "past 1 a lens would fold over";
    EXPECT_EQ(moveFromText("push:0,0.5|@8,0")->channels[0].outgoing.space, Space::Linear) << "an even drive";
}

TEST(MoveSpec, SaysWhatIsMissing) {
    const auto problem = [](const char* text) {
        const auto move = moveFromText(text);
        EXPECT_FALSE(move) << text;
        return move ? std::string() : describe(move.error());
    };
    EXPECT_NE(problem("wobble:1,2|1,2@5,5").find("there is no move"), std::string::npos);
    EXPECT_NE(problem("zoom:1,2|1,2").find("behind @"), std::string::npos);
    EXPECT_NE(problem("zoom:1|1,2@5,5").find("outgoing side"), std::string::npos);
    EXPECT_NE(problem("zoom:1,0|1,2@5,5").find("not between"), std::string::npos);
    EXPECT_NE(problem("zoom:1,2|1,2@5,0").find("at least one frame"), std::string::npos);
    EXPECT_NE(problem("zoom:|@5,5").find("neither side"), std::string::npos);
    for (const char* bad :
         {"", ":", "zoom", "zoom:", "zoom:a,b|c,d@e,f", "slide:0,1|0,1@5,5", "zoom:1,nan|1,2@5,5", "zoom:1,2|1,2@-5,5"})
        problem(bad);
}

TEST(RampSpec, ReadsBothSidesAndSaysWhatIsMissing) {
    const auto both = rampFromText("100,800|700,50@12,16");
    ASSERT_TRUE(both) << describe(both.error());
    EXPECT_EQ(both->out, (Ramp{100, 800, 12}));
    EXPECT_EQ(both->in, (Ramp{50, 700, 16})) << "the incoming side's first value is the one at the cut";
    const auto one = rampFromText("100,-400|@8,0");
    ASSERT_TRUE(one) << describe(one.error());
    EXPECT_EQ(one->out, (Ramp{100, -400, 8}));
    EXPECT_FALSE(one->in);
    for (const char* bad : {"", "100,800", "100,800|800,100", "100|800,100@12,12", "100,1200|@5,5", "100,800|@0,0",
                            "|@5,5", "a,b|c,d@e,f"})
        EXPECT_FALSE(rampFromText(bad)) << bad;
}

TEST(MoveSpec, ReadsSizesAndRanges) {
    EXPECT_EQ(sizeFromText("1280x720").value(), (Size{1280, 720}));
    for (const char* bad : {"", "1280", "1280x", "x720", "0x0", "-5x7", "1280x720x3", "99999x99999"})
        EXPECT_FALSE(sizeFromText(bad)) << bad;
    EXPECT_EQ(rangeFromText("3-9").value(), std::pair(std::int64_t(3), std::int64_t(9)));
    EXPECT_EQ(rangeFromText("7").value(), std::pair(std::int64_t(7), std::int64_t(7)));
    for (const char* bad : {"", "a-b", "9-3", "-3", "3-", "1-2-3"}) EXPECT_FALSE(rangeFromText(bad)) << bad;
}

} // namespace
} // namespace virga::cli
