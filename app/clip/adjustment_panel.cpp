#include "app/clip/adjustment_panel.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLineEdit>

#include "app/commands/clip_commands.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "core/edit/layer_edits.h"
#include "core/project/field_range.h"

namespace virga {
namespace {

NumberField* frames(const QString& name, FieldRange range, QWidget* parent) {
    auto* f = new NumberField(parent);
    f->setUnit(QObject::tr(" f"), 0, 1);
    f->setRange(range.least, range.most);
    f->setFixedWidth(74);
    f->setAccessibleName(name);
    return f;
}

} // namespace

AdjustmentPanel::AdjustmentPanel(Document* document, QWidget* parent) : QWidget(parent), m_document(document) {
    FormRows rows(this);
    m_name = new QLineEdit(this);
    m_name->setAccessibleName(tr("Adjustment name"));
    m_name->setPlaceholderText(tr("adjustment"));
    rows.add(tr("name"), m_name);
    m_start = frames(tr("First frame"), rangeOf<Adjustment>("start"), this);
    rows.add(tr("from"), m_start);
    m_length = frames(tr("Length in frames"), rangeOf<Adjustment>("length"), this);
    rows.add(tr("length"), m_length);
    auto* row = new QWidget(this);
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    m_bars = new QCheckBox(tr("black bars"), row);
    m_ratio = new NumberField(row);
    m_ratio->setUnit(tr(" : 1"), 2, 0.05);
    const FieldRange bars = rangeOf<Adjustment>("bars");
    m_ratio->setRange(bars.least, bars.most);
    m_ratio->setFixedWidth(74);
    m_ratio->setAccessibleName(tr("Width to height that the bars leave free"));
    layout->addWidget(m_bars);
    layout->addWidget(m_ratio);
    layout->addStretch(1);
    rows.add(tr("does"), row);
    rows.end();
    connect(m_name, &QLineEdit::editingFinished, this, [this] {
        if (m_name->isModified())
            change(tr("rename adjustment"), [this](Adjustment& a) { a.name = m_name->text().toStdString(); });
        m_name->setModified(false);
    });
    connect(m_start, &NumberField::edited, this, [this](double v) {
        change(
            tr("move adjustment"), [v](Adjustment& a) { a.start = std::int64_t(v); }, "adjustment-start");
    });
    connect(m_length, &NumberField::edited, this, [this](double v) {
        change(
            tr("trim adjustment"), [v](Adjustment& a) { a.length = std::int64_t(v); }, "adjustment-length");
    });
    connect(m_bars, &QCheckBox::clicked, this, [this](bool on) {
        change(on ? tr("bars on") : tr("bars off"), [on](Adjustment& a) {
            if (on)
                a.bars = 2.39;
            else
                a.bars.reset();
        });
    });
    connect(m_ratio, &NumberField::edited, this, [this](double v) {
        change(
            tr("bars"), [v](Adjustment& a) { a.bars = v; }, "adjustment-bars");
    });
    connect(document, &Document::projectChanged, this, &AdjustmentPanel::refresh);
    connect(document, &Document::selectionChanged, this, &AdjustmentPanel::refresh);
    refresh();
}

template <typename Change> void AdjustmentPanel::change(const QString& name, Change change, const QString& mergeKey) {
    if (m_document->selection().kind == Selection::AdjustmentSelected)
        changeAdjustment(*m_document, name, change, mergeKey);
}

void AdjustmentPanel::refresh() {
    const Selection s = m_document->selection();
    if (s.kind != Selection::AdjustmentSelected) return;
    const Adjustment& a = m_document->project()->adjustments[std::size_t(s.index)];
    if (!m_name->isModified()) m_name->setText(QString::fromStdString(a.name));
    m_start->setValue(double(a.start));
    m_length->setValue(double(a.length));
    m_bars->setChecked(a.bars.has_value());
    m_ratio->setEnabled(a.bars.has_value());
    if (a.bars)
        m_ratio->setValue(*a.bars);
    else
        m_ratio->clearValue();
}

MarkerPanel::MarkerPanel(Document* document, QWidget* parent) : QWidget(parent), m_document(document) {
    FormRows rows(this);
    m_name = new QLineEdit(this);
    m_name->setObjectName("markerName");
    m_name->setAccessibleName(tr("Marker name"));
    rows.add(tr("marker"), m_name);
    m_frame = frames(tr("Marker frame"), rangeOf<Marker>("frame"), this);
    rows.add(tr("frame"), m_frame);
    rows.end();
    connect(m_name, &QLineEdit::editingFinished, this, [this] {
        const Selection s = m_document->selection();
        if (s.kind == Selection::MarkerSelected && m_name->isModified())
            renameMarker(*m_document, s.index, m_name->text());
        m_name->setModified(false);
    });
    connect(m_frame, &NumberField::edited, this, [this](double v) {
        const Selection s = m_document->selection();
        if (s.kind == Selection::MarkerSelected) moveMarker(*m_document, s.index, std::int64_t(v));
    });
    connect(document, &Document::projectChanged, this, &MarkerPanel::refresh);
    connect(document, &Document::selectionChanged, this, &MarkerPanel::refresh);
}

void MarkerPanel::refresh() {
    const Selection s = m_document->selection();
    if (s.kind != Selection::MarkerSelected) return;
    const Marker& m = m_document->project()->markers[std::size_t(s.index)];
    if (!m_name->isModified()) m_name->setText(QString::fromStdString(m.name));
    m_frame->setValue(double(m.frame));
}

} // namespace virga
