#include "app/style/number_field.h"

#include <QSignalSpy>
#include <QTest>
#include <gtest/gtest.h>

namespace virga::number_field_test {
namespace {

class Field : public testing::Test {
protected:
    Field() {
        m_field.setUnit("w", 3, 0.05);
        m_field.setUnits({{"px", 1.0 / 1280}, {"%", 0.01}});
        m_field.setRange(-100, 100);
        m_field.setValue(0.5);
        m_field.show();
        m_field.setFocus();
    }
    void enter(const QString& text) {
        m_field.selectAll();
        QTest::keyClicks(&m_field, text);
        QTest::keyClick(&m_field, Qt::Key_Return);
    }
    NumberField m_field;
    QSignalSpy m_edited{&m_field, &NumberField::edited};
};

TEST_F(Field, ShowsItsUnit) {
    EXPECT_EQ(m_field.text(), "0.50w");
    m_field.setUnit("°", 1, 5);
    m_field.setValue(-120);
    EXPECT_EQ(m_field.text(), "-120°");
    m_field.setValue(0.26);
    EXPECT_EQ(m_field.text(), "0.3°");
}

TEST_F(Field, TakesArithmeticAndUnits) {
    enter("5*960px");
    EXPECT_DOUBLE_EQ(m_field.value(), 3.75);
    enter("50%");
    EXPECT_DOUBLE_EQ(m_field.value(), 0.5);
    enter("16/9");
    EXPECT_DOUBLE_EQ(m_field.value(), 16.0 / 9);
    EXPECT_EQ(m_edited.count(), 3);
}

TEST_F(Field, KeepsAWrongEntryAndSaysWhy) {
    enter("12 bananas");
    EXPECT_DOUBLE_EQ(m_field.value(), 0.5);
    EXPECT_TRUE(m_field.property("wrong").toBool());
    EXPECT_TRUE(m_field.text().contains("bananas")) << "what was typed stays";
    EXPECT_FALSE(m_field.toolTip().isEmpty());
    QTest::keyClick(&m_field, Qt::Key_Escape);
    EXPECT_EQ(m_field.text(), "0.50w");
    EXPECT_FALSE(m_field.property("wrong").toBool());
    enter("999");
    EXPECT_TRUE(m_field.property("wrong").toBool()) << "out of range";
    EXPECT_EQ(m_edited.count(), 0);
}

TEST_F(Field, NudgesByArrows) {
    QTest::keyClick(&m_field, Qt::Key_Up);
    EXPECT_DOUBLE_EQ(m_field.value(), 0.55);
    QTest::keyClick(&m_field, Qt::Key_Down, Qt::ShiftModifier);
    EXPECT_DOUBLE_EQ(m_field.value(), 0.05);
    EXPECT_EQ(m_edited.count(), 2);
}

TEST_F(Field, CanBeEmpty) {
    m_field.clearValue();
    EXPECT_FALSE(m_field.hasValue());
    EXPECT_TRUE(m_field.text().isEmpty());
    enter("1");
    EXPECT_TRUE(m_field.hasValue());
    EXPECT_EQ(m_edited.count(), 1);
}

} // namespace
} // namespace virga::number_field_test
