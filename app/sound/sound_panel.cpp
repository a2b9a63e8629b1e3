#include "app/sound/sound_panel.h"

#include <QPushButton>
#include <QVBoxLayout>

#include "app/commands/media_commands.h"
#include "app/sound/heard_box.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "core/base/sequence_path.h"
#include "core/edit/edits.h"
#include "core/project/field_range.h"

namespace virga {
namespace {

struct HeardField {
    const char *name, *caption, *unit;
};
// What each field of a music is called.
constexpr HeardField fields[] = {{"gain", QT_TRANSLATE_NOOP("virga::SoundPanel", "gain"), "%"},
                                 {"start", QT_TRANSLATE_NOOP("virga::SoundPanel", "from"), " f"},
                                 {"length", QT_TRANSLATE_NOOP("virga::SoundPanel", "length"), " f"},
                                 {"fadeIn", QT_TRANSLATE_NOOP("virga::SoundPanel", "fade in"), " f"},
                                 {"fadeOut", QT_TRANSLATE_NOOP("virga::SoundPanel", "fade out"), " f"}};

double valueOf(const Project& project, const Music& m, int field) {
    switch (field) {
    case 0:
        return m.gain * 100;
    case 1:
        return double(m.start);
    case 2:
        return double(musicLength(project, m));
    case 3:
        return double(m.fadeIn);
    default:
        return double(m.fadeOut);
    }
}

void setValue(Music& m, int field, double v) {
    switch (field) {
    case 0:
        m.gain = v / 100;
        break;
    case 1:
        m.start = std::int64_t(v);
        break;
    case 2:
        m.length = std::int64_t(v);
        break;
    case 3:
        m.fadeIn = std::int64_t(v);
        break;
    default:
        m.fadeOut = std::int64_t(v);
        break;
    }
}

} // namespace

SoundPanel::SoundPanel(Document* document, QWidget* parent) : QWidget(parent), m_document(document) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 8, 12, 8);
    column->setSpacing(8);
    m_rows = new QVBoxLayout;
    m_rows->setSpacing(10);
    column->addLayout(m_rows);
    auto* add = new QPushButton(tr("Add music…"), this);
    connect(add, &QPushButton::clicked, this, &SoundPanel::addWanted);
    auto* line = new QHBoxLayout;
    line->addWidget(add);
    line->addStretch(1);
    column->addLayout(line);
    auto* note = label(tr("A clip's own sound is set in its Clip panel."), "caption", this);
    note->setWordWrap(true);
    column->addWidget(note);
    m_heard = new HeardBox(document, this);
    connect(m_heard, &HeardBox::stemsWanted, this, &SoundPanel::stemsWanted);
    column->addWidget(m_heard);
    column->addStretch(1);
    connect(document, &Document::projectChanged, this, &SoundPanel::refresh);
    rebuild();
}

QWidget* SoundPanel::row(int music) {
    const auto project = m_document->project();
    const Media* media = findMedia(*project, project->music[std::size_t(music)].mediaId);
    auto* card = new QWidget(this);
    auto* grid = new QGridLayout(card);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(4);
    auto* name = new ElidedLabel(card);
    name->setObjectName("title");
    name->setFullText(media ? QString::fromStdString(mediaName(media->path)) : tr("missing"));
    grid->addWidget(name, 0, 0, 1, 3);
    auto* remove = iconButton("close", tr("Remove this music"), card, 22);
    connect(remove, &QToolButton::clicked, this, [this, music] { removeMusic(*m_document, music); });
    grid->addWidget(remove, 0, 4, Qt::AlignRight);
    for (int f = 0; f < 5; ++f) {
        auto* box = new NumberField(card);
        box->setUnit(QString::fromLatin1(fields[f].unit), 0, f == 0 ? 5 : 1);
        const FieldRange range = rangeOf<Music>(fields[f].name, f == 0 ? 100 : 1);
        box->setRange(range.least, range.most);
        box->setFixedWidth(70);
        box->setObjectName("number");
        box->setProperty("field", fields[f].name);
        box->setAccessibleName(tr("Music %1: %2").arg(music + 1).arg(tr(fields[f].caption)));
        connect(box, &NumberField::edited, this, [this, music, f](double v) {
            Music changed = m_document->project()->music[std::size_t(music)];
            setValue(changed, f, v);
            changeMusic(*m_document, music, changed, tr("music %1").arg(tr(fields[f].caption)),
                        QStringLiteral("music-%1-%2").arg(music).arg(f));
        });
        const int cell = f == 0 ? 4 : f - 1; // the pairs first
        grid->addWidget(label(tr(fields[f].caption), "caption", card), 1 + cell / 2, cell % 2 * 2);
        grid->addWidget(box, 1 + cell / 2, cell % 2 * 2 + 1);
    }
    grid->setColumnStretch(4, 1);
    return card;
}

void SoundPanel::rebuild() {
    for (QWidget* w : m_widgets) delete w;
    m_widgets.clear();
    for (int i = 0; i < int(m_document->project()->music.size()); ++i) {
        m_widgets.push_back(row(i));
        m_rows->addWidget(m_widgets.back());
    }
    refresh();
}

void SoundPanel::refresh() {
    const auto project = m_document->project();
    if (m_widgets.size() != project->music.size()) {
        // Not while one of the rows' own buttons is still being handled.
        QMetaObject::invokeMethod(this, &SoundPanel::rebuild, Qt::QueuedConnection);
        return;
    }
    for (std::size_t i = 0; i < m_widgets.size(); ++i)
        for (int f = 0; f < 5; ++f)
            for (auto* box : m_widgets[i]->findChildren<NumberField*>())
                if (box->property("field") == fields[f].name) box->setValue(valueOf(*project, project->music[i], f));
}

} // namespace virga
