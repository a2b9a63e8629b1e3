#pragma once
// Two small fields beside a key: its frame and its value.
#include <QFrame>

#include "core/motion/move.h"

namespace virga {

class NumberField;

/// The units that a channel's number fields understand, for a frame of that size.
void setUpChannelField(NumberField* field, const ChannelInfo& info, Size frame);

class KeyEditor : public QFrame {
    Q_OBJECT
public:
    KeyEditor(double time, double value, const ChannelInfo& info, Size frame, QWidget* parent);
    void showAt(const QPoint& globalAt);

signals:
    void entered(double time, double value);

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    NumberField *m_time, *m_value;
};

} // namespace virga
