#include "app/flow/limits_dialog.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <cmath>

#include "app/commands/cut_commands.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "core/project/fields.h"

namespace virga {
namespace {

// Calls `see` with each limit's field and a pointer to a member-like setter.
struct LimitVisitor {
    std::function<void(const Field&, double value, bool whole, int index)> see;
    int index = 0;
    void operator()(const Field& field, const double& value) { see(field, value, false, index++); }
    void operator()(const Field& field, const int& value) { see(field, value, true, index++); }
};

struct LimitSetter {
    int wanted;
    double to;
    int index = 0;
    template <typename T> void operator()(const Field&, T& value) {
        if (index++ == wanted) value = T(std::is_integral_v<T> ? std::round(to) : to);
    }
};

} // namespace

LimitsDialog::LimitsDialog(Document* document, QWidget* parent) : QDialog(parent), m_document(document) {
    setWindowTitle(tr("Limits of the flow check"));
    setObjectName("limitsDialog");
    resize(560, 520);
    auto* column = new QVBoxLayout(this);
    auto* words =
        label(tr("What this project's check takes for a mistake. Each change is one step that can be undone."),
              "caption", this);
    words->setWordWrap(true);
    column->addWidget(words);
    auto* scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    auto* inner = new QWidget;
    auto* grid = new QGridLayout(inner);
    grid->setContentsMargins(0, 0, 8, 0);
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(1, 1);
    const FlowLimits now = document->project()->settings.flow;
    int row = 0;
    LimitVisitor visitor{[&](const Field& field, double value, bool whole, int index) {
        const QString called = QString::fromUtf8(field.called), told = QString::fromUtf8(field.told);
        auto* caption = label(called.left(1).toUpper() + called.mid(1), "title", inner);
        auto* explained = label(told, "caption", inner);
        explained->setWordWrap(true);
        auto* number = new NumberField(inner);
        number->setRange(field.least, field.most);
        number->setUnit({}, whole ? 0 : 2, whole ? 1 : std::max(0.01, value / 20));
        number->setFixedWidth(74);
        number->setValue(value);
        number->setAccessibleName(called);
        connect(number, &NumberField::edited, this, [this, index](double to) {
            FlowLimits limits = m_document->project()->settings.flow;
            LimitSetter setter{index, to};
            fieldsOf(setter, limits);
            setFlowLimits(*m_document, limits);
        });
        grid->addWidget(caption, row, 0);
        grid->addWidget(explained, row, 1);
        grid->addWidget(number, row++, 2);
    }};
    fieldsOf(visitor, now);
    scroll->setWidget(inner);
    column->addWidget(scroll, 1);
    auto* foot = new QHBoxLayout;
    m_ignored = label({}, "caption", this);
    m_again = new QPushButton(tr("Report all again"), this);
    connect(m_again, &QPushButton::clicked, this, [this] {
        reportAgain(*m_document);
        refreshIgnored();
    });
    auto* usual = new QPushButton(tr("As at first"), this);
    connect(usual, &QPushButton::clicked, this, [this] {
        setFlowLimits(*m_document, {});
        accept();
    });
    auto* close = new QPushButton(tr("Close"), this);
    close->setDefault(true);
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    foot->addWidget(m_ignored, 1);
    foot->addWidget(m_again);
    foot->addWidget(usual);
    foot->addWidget(close);
    column->addLayout(foot);
    refreshIgnored();
}

void LimitsDialog::refreshIgnored() {
    const Project& project = *m_document->project();
    std::size_t here = 0;
    for (const Clip& clip : project.reel) here += clip.ignored.size() + clip.transition.ignored.size();
    const std::size_t kinds = project.settings.ignored.size();
    m_ignored->setText(here + kinds == 0 ? tr("Everything is reported.")
                                         : tr("Not reported: %1 here and there, %2 everywhere").arg(here).arg(kinds));
    m_again->setEnabled(here + kinds > 0);
}

} // namespace virga
