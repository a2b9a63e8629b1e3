#include "app/sound/heard_box.h"

#include <QCheckBox>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/commands/movement_commands.h"
#include "app/services/in_background.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/audio/heard.h"
#include "core/project/fields.h"

namespace virga {
namespace {

constexpr int moments = 161;    // of the curve
constexpr double seconds = 4.0; // on each side of the playhead

// Each number of the sound, in the order of its fields.
struct HeardNumbers {
    std::function<void(const Field&, double& value)> see;
    void operator()(const Field&, bool&) {}
    void operator()(const Field& field, double& value) { see(field, value); }
};

} // namespace

HeardCurve::HeardCurve(Document* document, QWidget* parent) : QWidget(parent), m_document(document) {
    setMinimumHeight(54);
    setAccessibleName(tr("Level of the movement's sound"));
    m_wait.setSingleShot(true);
    m_wait.setInterval(60);
    connect(&m_wait, &QTimer::timeout, this, &HeardCurve::look);
    connect(document, &Document::projectChanged, this, &HeardCurve::lookSoon);
    connect(document, &Document::playheadChanged, this, &HeardCurve::lookSoon);
}

// Nobody sees it: then nothing is worked out.
void HeardCurve::lookSoon() {
    if (isVisible() && !m_wait.isActive()) m_wait.start();
}

void HeardCurve::showEvent(QShowEvent*) {
    lookSoon();
}

void HeardCurve::look() {
    if (m_busy) {
        m_again = true;
        return;
    }
    m_busy = true;
    m_again = false;
    inBackground(
        this,
        [project = m_document->project(), head = m_document->playhead()] {
            std::vector<double> strengths;
            strengths.reserve(std::size_t(moments));
            const double reach = seconds * project->settings.rate.toDouble();
            const HeardCourse course(*project, std::int64_t(double(head) - reach),
                                     std::int64_t(double(head) + reach) + 1);
            for (int i = 0; i < moments; ++i)
                strengths.push_back(course.strengthAt(double(head) + reach * (2.0 * i / (moments - 1) - 1)));
            return strengths;
        },
        [this](std::vector<double> strengths) {
            m_busy = false;
            m_strengths = std::move(strengths);
            update();
            if (m_again) m_wait.start();
        },
        QThreadPool::globalInstance(), [this](const Error&) { m_busy = false; });
}

void HeardCurve::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().chart);
    const Heard& heard = m_document->project()->settings.heard;
    const auto yOf = [&](double v) { return height() - 3 - std::min(1.3, v) / 1.3 * heard.level * (height() - 8); };
    if (!m_strengths.empty()) {
        QPainterPath path(QPointF(0, height() - 3));
        for (std::size_t i = 0; i < m_strengths.size(); ++i)
            path.lineTo(double(i) / double(m_strengths.size() - 1) * width(), yOf(m_strengths[i]));
        path.lineTo(width(), height() - 3);
        QColor fill = theme().strong;
        fill.setAlphaF(heard.on ? 0.35f : 0.12f);
        p.fillPath(path, fill);
        p.setPen(QPen(heard.on ? theme().strong : theme().faint, 1.2));
        p.drawPath(path);
    }
    p.setPen(QPen(theme().playhead, 1));
    p.drawLine(QPointF(width() / 2.0, 0), QPointF(width() / 2.0, height()));
    p.setPen(theme().faint);
    p.setFont(numberFont(10));
    p.drawText(rect().adjusted(5, 3, -5, 0), Qt::AlignLeft | Qt::AlignTop, tr("−%1 s").arg(seconds, 0, 'f', 0));
    p.drawText(rect().adjusted(5, 3, -5, 0), Qt::AlignRight | Qt::AlignTop, tr("+%1 s").arg(seconds, 0, 'f', 0));
}

HeardBox::HeardBox(Document* document, QWidget* parent) : QWidget(parent), m_document(document) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 4, 0, 0);
    column->setSpacing(6);
    m_on = new QCheckBox(tr("Movement heard"), this);
    setTip(m_on, tr("A sound made of how fast the picture goes: it follows every change of the moves"));
    column->addWidget(m_on);
    m_rest = new QWidget(this);
    auto* inner = new QVBoxLayout(m_rest);
    inner->setContentsMargins(0, 0, 0, 0);
    inner->setSpacing(6);
    m_curve = new HeardCurve(document, m_rest);
    inner->addWidget(m_curve);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(4);
    int number = 0;
    Heard fields;
    HeardNumbers each{[&](const Field& field, double&) {
        const bool time = field.name == std::string_view("length");
        const QString called = QString::fromUtf8(field.called), name = called.section(' ', 1);
        auto* box = new NumberField(m_rest);
        box->setUnit(time ? QStringLiteral(" s") : QStringLiteral("%"), time ? 2 : 0, time ? 0.05 : 5);
        box->setRange(time ? field.least : field.least * 100, time ? field.most : field.most * 100);
        box->setFixedWidth(62);
        box->setObjectName("number");
        box->setProperty("field", QString::fromUtf8(field.name));
        box->setAccessibleName(tr("Movement heard: %1").arg(name));
        if (field.told) setTip(box, QString::fromUtf8(field.told));
        const int index = number;
        connect(box, &NumberField::edited, this, [this, index, time](double v) {
            Heard heard = m_document->project()->settings.heard;
            int i = 0;
            HeardNumbers set{[&](const Field&, double& value) {
                if (i++ == index) value = time ? v : v / 100;
            }};
            fieldsOf(set, heard);
            setHeard(*m_document, heard, QStringLiteral("heard-%1").arg(index));
        });
        grid->addWidget(label(name, "caption", m_rest), number / 2, number % 2 * 2);
        grid->addWidget(box, number / 2, number % 2 * 2 + 1);
        m_fields.push_back(box);
        ++number;
    }};
    fieldsOf(each, fields);
    grid->setColumnStretch(4, 1);
    inner->addLayout(grid);
    column->addWidget(m_rest);
    auto* stems = new QPushButton(tr("Write stems…"), this);
    setTip(stems, tr("The clips' sound, the music and the movement as a WAV file each"));
    auto* line = new QHBoxLayout;
    line->addWidget(stems);
    line->addStretch(1);
    column->addLayout(line);
    connect(stems, &QPushButton::clicked, this, &HeardBox::stemsWanted);
    connect(m_on, &QCheckBox::clicked, this, [this](bool on) {
        Heard heard = m_document->project()->settings.heard;
        heard.on = on;
        setHeard(*m_document, heard);
    });
    connect(document, &Document::projectChanged, this, &HeardBox::refresh);
    refresh();
}

void HeardBox::refresh() {
    Heard heard = m_document->project()->settings.heard;
    m_on->setChecked(heard.on);
    m_rest->setEnabled(heard.on);
    std::size_t i = 0;
    HeardNumbers each{[&](const Field& field, double& value) {
        m_fields[i++]->setValue(field.name == std::string_view("length") ? value : value * 100);
    }};
    fieldsOf(each, heard);
    m_curve->update();
}

} // namespace virga
