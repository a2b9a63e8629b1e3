// The table of moves, as it was read: what may be typed, by which steps, how it is written. Beside it what must hold
// for every row of it.
#include <cmath>
#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/motion/move.h"
#include "tests/support/told.h"

namespace virga::move_table_test {
namespace {

std::string rowsOf(const MoveInfo& info) {
    std::string text = fmt::format("== {} ({}): {}\n", info.label, info.name, info.purpose);
    text +=
        fmt::format("   role {}{}{}{}\n", int(info.role), info.anchor.empty() ? "" : fmt::format(", {}", info.anchor),
                    info.even.empty() ? "" : fmt::format(", \"{}\" {}", info.even, info.evenAtFirst ? "on" : "off"),
                    info.pattern ? ", goes by its own clock" : "");
    for (const ChannelInfo& c : info.channels)
        text += fmt::format(
            "   {} ({}){}: {} at rest, {} to {} by {}, {} decimals, space {}; rising {}, falling {}; shows at {}, "
            "axis at least {}, spoken \"{}\", quantity {}, turns {}\n",
            c.label, c.name, c.unit, c.neutral, c.lowest, c.highest, c.step, c.decimals, int(c.space), c.rising,
            c.falling, c.usual, c.leastSpan, c.spoken, int(c.quantity), int(c.axis));
    for (const ParameterInfo& p : info.parameters) {
        text += fmt::format("   - {} ({}){}: {} at first, {} to {} by {}, {} decimals", p.label, p.name, p.unit,
                            p.initial, p.lowest, p.highest, p.step, p.decimals);
        for (const std::string_view choice : p.choices) text += fmt::format(" | {}", choice);
        text += fmt::format(" ({})\n", p.hint);
    }
    return text;
}

TEST(MoveTable, IsAsItWasRead) {
    std::string text;
    for (const MoveInfo& info : allMoves()) text += rowsOf(info);
    text += rowsOf(moveInfo(MoveKind::ShotSpeed));
    test::expectAsRead("core/motion/move_table.txt", text);
}

TEST(MoveTable, EveryRowCanBeTyped) {
    for (const MoveInfo& info : allMoves()) {
        for (const ChannelInfo& c : info.channels) {
            SCOPED_TRACE(std::string(info.label) + " " + std::string(c.label));
            EXPECT_LE(c.lowest, c.neutral);
            EXPECT_GE(c.highest, c.neutral);
            EXPECT_GE(c.usual, c.lowest);
            EXPECT_LE(c.usual, c.highest);
            EXPECT_NE(c.usual, c.neutral) << "it shows something";
            EXPECT_GE(c.step * std::pow(10, c.decimals), 1 - 1e-9) << "a step is seen in the field";
        }
        for (const ParameterInfo& p : info.parameters) {
            SCOPED_TRACE(std::string(info.label) + " " + std::string(p.label));
            EXPECT_LE(p.lowest, p.initial);
            EXPECT_GE(p.highest, p.initial);
            EXPECT_GE(p.step * std::pow(10, p.decimals), 1 - 1e-9);
            if (!p.choices.empty()) EXPECT_EQ(p.highest, double(p.choices.size()) - 1);
        }
    }
}

} // namespace
} // namespace virga::move_table_test
