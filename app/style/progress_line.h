#pragma once
// A thin line that fills: how far long work is, beneath words that say what is being done.
#include <QProgressBar>

namespace virga {

/// From 0 to 1000, without a number.
inline QProgressBar* progressLine(QWidget* parent) {
    auto* line = new QProgressBar(parent);
    line->setRange(0, 1000);
    line->setTextVisible(false);
    line->setFixedHeight(8);
    return line;
}

} // namespace virga
