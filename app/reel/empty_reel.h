#pragma once
// What the Reel says while it is empty.
#include <QWidget>

namespace virga {

class EmptyReel : public QWidget {
    Q_OBJECT
public:
    explicit EmptyReel(QWidget* parent = nullptr);

signals:
    void addWanted();
    void demoWanted();
};

} // namespace virga
