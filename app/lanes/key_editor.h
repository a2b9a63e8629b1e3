#pragma once
// Two small fields beside a key: its frame, and the value for it and all that are selected with it.
#include <QFrame>

#include "core/motion/move.h"

namespace virga {

class NumberField;

/// The units that a channel's and a parameter's number fields understand, for a frame of that size.
void setUpChannelField(NumberField* field, const ChannelInfo& info, Size frame);
void setUpParameterField(NumberField* field, const ParameterInfo& info, Size frame);

class KeyEditor : public QFrame {
    Q_OBJECT
public:
    /// `count` keys get the value.
    KeyEditor(double time, double value, const ChannelInfo& info, Size frame, int count, QWidget* parent);
    void showAt(const QPoint& globalAt);

signals:
    void timeEntered(double time);
    void valueEntered(double value);

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    NumberField *m_time, *m_value;
};

} // namespace virga
