#pragma once
// Where background work that failed in a way nobody foresaw is told; the window shows it. Interface thread only.
#include <QObject>

#include "core/base/error.h"

namespace virga {

class Failures : public QObject {
    Q_OBJECT
public:
    static Failures& all();

signals:
    void told(const virga::Error& error);
};

} // namespace virga
