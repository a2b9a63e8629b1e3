// What can be told of the look without eyes: contrast, sizes, names, nothing clipped.
#include <QAbstractButton>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <cmath>

#include "app/lanes/lanes_view.h"
#include "app/picture/picture_view.h"
#include "app/reel/reel_view.h"
#include "app/style/icons.h"
#include "app/style/theme.h"
#include "tests/app/window_fixture.h"

namespace virga::test::look_test {
namespace {

// W3C WCAG 2.1, relative luminance and contrast ratio.
double luminance(const QColor& c) {
    const auto f = [](double v) { return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
    return 0.2126 * f(c.redF()) + 0.7152 * f(c.greenF()) + 0.0722 * f(c.blueF());
}
double contrast(const QColor& a, const QColor& b) {
    const double x = luminance(a), y = luminance(b);
    return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

class Look : public WindowTest {
protected:
    void TearDown() override {
        useTheme("night");
        WindowTest::TearDown();
    }
};

TEST_F(Look, BothThemesCanBeRead) {
    for (const char* name : {"night", "day"}) {
        useTheme(name);
        const Theme& t = theme();
        for (const QColor& ground : {t.window, t.panel, t.raised, t.chart}) {
            EXPECT_GE(contrast(t.text, ground), 4.5) << name;
            EXPECT_GE(contrast(t.dim, ground), 4.5) << name;
            for (const QColor& c : {t.outgoing, t.incoming, t.breaks, t.look, t.fine})
                EXPECT_GE(contrast(c, ground), ground == t.window && t.name == "day" ? 4.0 : 4.5)
                    << name << ' ' << c.name().toStdString() << " on " << ground.name().toStdString();
        }
    }
}

TEST_F(Look, TheThemeChangesWhileOpen) {
    openPlunge();
    m_window->setTheme("day");
    EXPECT_EQ(theme().name, "day");
    settle();
    const QColor pixel = m_window->grab().toImage().pixelColor(640, 15);
    EXPECT_GT(pixel.lightness(), 150);
    m_window->setTheme("night");
}

TEST_F(Look, EveryControlHasANameAndButtonsSayWhatTheyDo) {
    openPlunge();
    settle();
    for (auto* b : m_window->findChildren<QAbstractButton*>()) {
        if (!b->isVisible()) continue;
        EXPECT_FALSE(b->accessibleName().isEmpty() && b->text().isEmpty())
            << b->metaObject()->className() << ' ' << b->objectName().toStdString();
        if (b->text().isEmpty()) EXPECT_FALSE(b->toolTip().isEmpty()) << b->accessibleName().toStdString();
    }
    for (auto* f : m_window->findChildren<NumberField*>()) EXPECT_FALSE(f->accessibleName().isEmpty());
}

TEST_F(Look, NothingIsClipped) {
    for (const QSize size : {QSize(1280, 800), QSize(1100, 700), QSize(1700, 1000)}) {
        m_window->resize(size);
        openPlunge();
        settle();
        for (auto* b : m_window->findChildren<QPushButton*>()) {
            if (!b->isVisible() || b->text().contains('\n')) continue;
            EXPECT_GE(b->width(), b->fontMetrics().horizontalAdvance(b->text()))
                << b->text().toStdString() << " at " << size.width();
            // Inside its parent, so that no part of it is out of sight.
            EXPECT_TRUE(b->parentWidget()->rect().contains(b->geometry()))
                << b->text().toStdString() << " at " << size.width();
        }
        for (auto* area : m_window->findChildren<QScrollArea*>())
            if (area->isVisible() && area->widget())
                EXPECT_LE(area->widget()->width(), area->viewport()->width())
                    << area->parentWidget()->metaObject()->className() << " at " << size.width();
        for (auto* f : m_window->findChildren<NumberField*>())
            if (f->isVisible())
                EXPECT_GE(f->width() - 10, f->fontMetrics().horizontalAdvance(f->text())) << f->text().toStdString();
    }
}

TEST_F(Look, WhatALowWindowLacksLanesAndTheMiddleBearAlike) {
    const auto heights = [this] {
        QApplication::processEvents();
        return std::tuple(m_window->views().reel->height(), m_window->views().picture->parentWidget()->height(),
                          m_window->views().lanes->height());
    };
    m_window->resize(1280, 800);
    openPlunge();
    const auto [reel, middle, lanes] = heights();
    m_window->resize(1100, 700);
    const auto [lowReel, lowMiddle, lowLanes] = heights();
    EXPECT_EQ(lowReel, reel);
    EXPECT_NEAR(lowMiddle, middle - 50, 3);
    EXPECT_NEAR(lowLanes, lanes - 50, 3);
    // What was chosen by hand stays.
    m_window->resize(1280, 800);
    m_window->windowLayout()->setLanesHeight(220);
    m_window->resize(1280, 780);
    EXPECT_EQ(std::get<2>(heights()), 220);
}

TEST_F(Look, FontsShipWithTheProgram) {
    EXPECT_EQ(QFontInfo(textFont()).family(), "Inter");
    EXPECT_EQ(QFontInfo(numberFont()).family(), "JetBrains Mono");
    EXPECT_GE(textFont(4).pixelSize(), 10) << "never smaller";
    for (const char* name : {"play", "move-zoom", "edges-mirror", "cut"})
        EXPECT_FALSE(icon(name).pixmap(16).isNull()) << name;
}

TEST_F(Look, AnIconIsDrawnOnceForAllItsButtons) {
    const QString was = theme().name;
    const QIcon first = icon("play");
    EXPECT_EQ(icon("play").cacheKey(), first.cacheKey());
    EXPECT_NE(icon("cut").cacheKey(), first.cacheKey());
    const QImage dark = first.pixmap(16).toImage();
    useTheme(was == "night" ? "day" : "night");
    EXPECT_NE(icon("play").pixmap(16).toImage(), dark) << "in the other theme's colour";
    useTheme(was);
    EXPECT_EQ(icon("play").pixmap(16).toImage(), dark);
}

} // namespace
} // namespace virga::test::look_test
