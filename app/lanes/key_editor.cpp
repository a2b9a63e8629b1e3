#include "app/lanes/key_editor.h"

#include "app/document/words.h"

#include <QHBoxLayout>
#include <QKeyEvent>

#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "app/style/theme.h"
#include "core/project/limits.h"

namespace virga {

namespace {

// A channel's or a parameter's.
template <typename Info> void setUp(NumberField* field, const Info& info, Size frame) {
    Units units;
    for (const auto& [name, worth] : typedUnits(info.quantity, frame)) units.emplace_back(name, worth);
    field->setUnits(std::move(units));
    field->setRange(info.lowest, info.highest);
    field->setUnit(textOf(info.unit), info.decimals, info.step);
}

} // namespace

void setUpChannelField(NumberField* field, const ChannelInfo& info, Size frame) {
    setUp(field, info, frame);
}

void setUpParameterField(NumberField* field, const ParameterInfo& info, Size frame) {
    setUp(field, info, frame);
}

KeyEditor::KeyEditor(double time, double value, const ChannelInfo& info, Size frame, int count, QWidget* parent)
    : QFrame(parent, Qt::Popup) {
    setAttribute(Qt::WA_DeleteOnClose);
    setObjectName("keyEditor");
    setStyleSheet(QStringLiteral("#keyEditor { background: %1; border: 1px solid %2; border-radius: 4px; }")
                      .arg(theme().raised.name(), theme().line.name()));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(8, 6, 8, 6);
    row->setSpacing(6);
    m_time = new NumberField(this);
    m_time->setUnit({}, 2, 1);
    m_time->setRange(-farthestKey, farthestKey);
    m_time->setFixedWidth(58);
    m_time->setValue(time);
    m_time->setAccessibleName(tr("Frame from the cut"));
    m_value = new NumberField(this);
    setUpChannelField(m_value, info, frame);
    m_value->setFixedWidth(72);
    m_value->setValue(value);
    m_value->setAccessibleName(tr("Value"));
    row->addWidget(label(tr("frame"), "caption", this));
    row->addWidget(m_time);
    row->addWidget(label(tr("value"), "caption", this));
    row->addWidget(m_value);
    if (count > 1) row->addWidget(label(tr("for %1 keys").arg(count), "caption", this));
    connect(m_time, &NumberField::edited, this, &KeyEditor::timeEntered);
    connect(m_value, &NumberField::edited, this, &KeyEditor::valueEntered);
    for (const NumberField* field : {m_time, m_value})
        connect(field, &NumberField::returnPressed, this, &QWidget::close);
}

void KeyEditor::showAt(const QPoint& globalAt) {
    move(globalAt);
    show();
    m_value->setFocus();
}

void KeyEditor::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter || event->key() == Qt::Key_Escape)
        close();
    else
        QFrame::keyPressEvent(event);
}

} // namespace virga
