#include "core/base/expression.h"

#include <gtest/gtest.h>

namespace virga::expression_test {
namespace {

double value(std::string_view text, const Units& units = {}) {
    const auto v = evaluateExpression(text, units);
    EXPECT_TRUE(v) << describe(v.error());
    return v.value_or(-12345);
}

std::string problem(std::string_view text, const Units& units = {}) {
    const auto v = evaluateExpression(text, units);
    EXPECT_FALSE(v) << text << " gave " << v.value_or(0);
    return v ? std::string() : describe(v.error());
}

TEST(Expression, ReadsPlainNumbers) {
    EXPECT_DOUBLE_EQ(value("1.5"), 1.5);
    EXPECT_DOUBLE_EQ(value(" -90 "), -90);
    EXPECT_DOUBLE_EQ(value("−90"), -90) << "a real minus sign";
    EXPECT_DOUBLE_EQ(value("0,62"), 0.62) << "a comma is a decimal point";
}

TEST(Expression, CalculatesWithPrecedenceAndBrackets) {
    EXPECT_DOUBLE_EQ(value("16/9"), 16.0 / 9);
    EXPECT_DOUBLE_EQ(value("1+2*3"), 7);
    EXPECT_DOUBLE_EQ(value("(1+2)*3"), 9);
    EXPECT_DOUBLE_EQ(value("2 - -3"), 5);
    EXPECT_DOUBLE_EQ(value("8/2/2"), 2);
}

TEST(Expression, TurnsUnitsIntoTheFieldsOwn) {
    const Units slide = {{"w", 1}, {"px", 1.0 / 1280}, {"%", 0.01}};
    EXPECT_DOUBLE_EQ(value("5*960px", slide), 3.75);
    EXPECT_DOUBLE_EQ(value("50%", slide), 0.5);
    const Units spin = {{"°", 1}, {"turn", 360}, {"turns", 360}};
    EXPECT_DOUBLE_EQ(value("2 turns", spin), 720);
    EXPECT_DOUBLE_EQ(value("-90°", spin), -90);
    EXPECT_DOUBLE_EQ(value("(1/4) turn", spin), 90);
    EXPECT_DOUBLE_EQ(value("-1/4 turn", spin), -90) << "a quarter of a turn";
    EXPECT_DOUBLE_EQ(value("3/4 turn + 10", spin), 280);
    EXPECT_DOUBLE_EQ(value("960px/2", slide), 0.375);
    EXPECT_DOUBLE_EQ(value("1/2*960px", slide), 0.375);
}

TEST(Expression, SaysWhatIsWrongAndWhere) {
    EXPECT_NE(problem("1+").find("number is missing"), std::string::npos);
    EXPECT_NE(problem("1/0").find("division by zero"), std::string::npos);
    EXPECT_NE(problem("(1+2").find("closing bracket"), std::string::npos);
    EXPECT_NE(problem("2 bananas").find("character 3"), std::string::npos);
    problem("");
    problem("1..2");
    problem("nan");
    problem("1e9999");
}

TEST(Expression, SurvivesAnyDepth) {
    problem(std::string(100000, '('));
    problem(std::string(100000, '-') + "1");
}

} // namespace
} // namespace virga::expression_test
