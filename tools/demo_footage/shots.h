#pragma once
// The eight moving shots of the Lantern Regatta.
#include <QImage>
#include <QString>
#include <vector>

namespace virga::demo {

struct Shot {
    const char* file; // without ending
    int frames;
    QImage (*draw)(double seconds);
};

const std::vector<Shot>& shots();

} // namespace virga::demo
