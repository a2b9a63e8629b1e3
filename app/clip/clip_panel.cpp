#include "app/clip/clip_panel.h"

#include "app/commands/media_commands.h"
#include "app/document/words.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <cmath>

#include "app/commands/reel_commands.h"
#include "app/commands/speed_commands.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "app/style/plain_text.h"
#include "core/analysis/find_bars.h"
#include "core/edit/edge_fixes.h"
#include "core/project/field_range.h"

namespace virga {
namespace {

QWidget* sideBySide(const std::vector<QWidget*>& parts, QWidget* parent) {
    auto* row = new QWidget(parent);
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    for (QWidget* w : parts) layout->addWidget(w);
    layout->addStretch(1);
    return row;
}

} // namespace

ClipPanel::ClipPanel(Document* document, InBetweens* inBetweens, QWidget* parent)
    : QWidget(parent), m_document(document), m_inBetweens(inBetweens) {
    connect(document, &Document::opened, this, [this] { m_bars.stop(); });
    FormRows rows(this);
    m_name = new QLineEdit(this);
    m_name->setObjectName("clipName");
    m_name->setAccessibleName(tr("Clip name"));
    connect(m_name, &QLineEdit::editingFinished, this, [this] {
        if (m_name->isModified()) change(tr("rename clip"), [this](Clip& c) { c.name = m_name->text().toStdString(); });
        m_name->setModified(false);
    });
    rows.add(tr("name"), m_name);
    m_source = new ElidedLabel(this);
    m_source->setObjectName("caption");
    rows.add(tr("file"), m_source);
    m_facts = label({}, "mono", this);
    rows.add({}, m_facts);
    buildTime(rows);
    buildFrame(rows);
    buildCrop(rows);
    buildEntrances(rows);
    buildSound(rows);
    rows.end();
    connect(document, &Document::projectChanged, this, &ClipPanel::refresh);
    connect(document, &Document::selectionChanged, this, &ClipPanel::refresh);
    connect(document, &Document::playheadChanged, this, &ClipPanel::refresh);
    refresh();
}

NumberField* ClipPanel::field(const QString& accessibleName, const QString& unit, int decimals, double step,
                              FieldRange range) {
    auto* f = new NumberField(this);
    f->setUnit(unit, decimals, step);
    f->setRange(range.least, range.most);
    f->setFixedWidth(74);
    f->setAccessibleName(accessibleName);
    setTip(f, accessibleName);
    return f;
}

void ClipPanel::buildTime(FormRows& rows) {
    m_length = field(tr("Length in frames"), tr(" f"), 0, 1, rangeOf<Clip>("length"));
    connect(m_length, &NumberField::edited, this, [this](double frames) {
        if (target().index < 0) return;
        setClipLength(*m_document, target(), std::int64_t(frames));
        refresh();
    });
    m_spare = label({}, "caption", this);
    setTip(m_spare, tr("Unused source frames before and after the clip"));
    rows.add(tr("length"), sideBySide({m_length, m_spare}, this));
    buildSpeed(rows);
}

void ClipPanel::buildSpeed(FormRows& rows) {
    m_speed = field(tr("Speed"), tr(" %"), 1, 5, rangeOf<Clip>("speed", 100));
    m_speed->setEmptyText(tr("varies"));
    connect(m_speed, &NumberField::edited, this, [this](double percent) {
        const Rational speed(std::llround(percent * 100), 10000);
        changeChosenClips(
            *m_document, tr("set speed"),
            [speed](const Project& p, Clip c) { return atConstantSpeed(p, std::move(c), speed); }, "speed");
        refresh();
    });
    m_backwards = new QPushButton(tr("Backwards"), this);
    setTip(m_backwards, tr("Show the same pictures in reverse order"));
    connect(m_backwards, &QPushButton::clicked, this, [this] { runChosenBackwards(*m_document); });
    rows.add(tr("speed"), sideBySide({m_speed, m_backwards}, this));
    m_between = new Choices({{tr("nearest"), {}, tr("A slow shot repeats its pictures")},
                             {tr("mix"), {}, tr("Between two pictures both are seen")},
                             {tr("made up"), {}, tr("Between two pictures a new one is made along their movement")}},
                            this);
    m_between->setAccessibleName(tr("Pictures in between"));
    connect(m_between, &Choices::chosen, this,
            [this](int i) { change(tr("pictures in between"), [i](Clip& c) { c.inBetween = InBetween(i); }); });
    rows.add(tr("between"), m_between);
    m_shotBlur = field(tr("Blur of what moves in the shot"), tr("×"), 2, 0.25, rangeOf<Clip>("shotBlur"));
    setTip(m_shotBlur, tr("What moves in the shot is smeared along its way, as if the shutter had been open so much "
                          "longer; 0 is off"));
    connect(m_shotBlur, &NumberField::edited, this, [this](double v) {
        change(
            tr("blur of the shot"), [v](Clip& c) { c.shotBlur = v; }, "shot-blur");
    });
    m_progress = label({}, "caption", this);
    m_stop = new QPushButton(this);
    setTip(m_stop, tr("Pictures in between are made ready in the background, for playing and exporting"));
    connect(m_stop, &QPushButton::clicked, this,
            [this] { m_inBetweens->isStopped() ? m_inBetweens->start() : m_inBetweens->stop(); });
    connect(m_inBetweens, &InBetweens::changed, this, &ClipPanel::refreshProgress);
    rows.add(tr("its blur"), m_shotBlur);
    m_making = sideBySide({m_progress, m_stop}, this);
    rows.add({}, m_making);
    m_speedSound = new QComboBox(this);
    for (const auto& [text, tip] :
         {std::pair(tr("follows near normal"), tr("It follows from 50 to 200 %, and is silent beyond")),
          {tr("follows"), tr("Higher where the shot runs faster")},
          {tr("keeps its pitch"), tr("As it was recorded, only faster or slower")},
          {tr("silent"), tr("No sound at another speed than it was shot at")}}) {
        m_speedSound->addItem(text);
        m_speedSound->setItemData(m_speedSound->count() - 1, tip, Qt::ToolTipRole);
    }
    m_speedSound->setAccessibleName(tr("Sound at another speed"));
    connect(m_speedSound, &QComboBox::activated, this,
            [this](int i) { change(tr("sound at another speed"), [i](Clip& c) { c.speedSound = SpeedSound(i); }); });
}

void ClipPanel::refreshSpeed(const Clip& c, const Media* media) {
    const bool runs = media && !media->still && !c.isGap();
    if (hasSpeedKeys(c))
        m_speed->clearValue();
    else
        m_speed->setValue(c.speed.toDouble() * 100);
    m_between->setCurrent(int(c.inBetween));
    m_shotBlur->setValue(c.shotBlur);
    m_speedSound->setCurrentIndex(int(c.speedSound));
    for (QWidget* w : std::initializer_list<QWidget*>{m_speed, m_backwards, m_between, m_shotBlur}) w->setEnabled(runs);
    m_speedSound->setEnabled(runs && media->sound && (hasSpeedKeys(c) || c.speed != Rational(1)));
    refreshProgress();
}

void ClipPanel::refreshProgress() {
    m_progress->setText(m_inBetweens->progressText());
    m_stop->setText(m_inBetweens->isStopped() ? tr("Go on") : tr("Stop"));
    m_making->setVisible(m_inBetweens->left() > 0);
}

void ClipPanel::buildFrame(FormRows& rows) {
    m_fit = new Choices({{tr("fill"), {}, tr("Fill the frame, cutting off what is over")},
                         {tr("fit"), {}, tr("Show all of it, edges filled")},
                         {tr("stretch"), {}, tr("Pull it to the frame")}},
                        this);
    connect(m_fit, &Choices::chosen, this, [this](int i) { change(tr("fit"), [i](Clip& c) { c.fit = Fit(i); }); });
    rows.add(tr("frame"), m_fit);
    m_scale = field(tr("Own scale"), tr(" %"), 1, 1, rangeOf<Placement>("scale", 100));
    connect(m_scale, &NumberField::edited, this, [this](double v) {
        change(
            tr("scale"), [v](Clip& c) { c.placement.scale = v / 100; }, "scale");
    });
    m_turn = field(tr("Own angle, clockwise"), tr("°"), 1, 1, rangeOf<Placement>("angle"));
    connect(m_turn, &NumberField::edited, this, [this](double v) {
        change(
            tr("angle"), [v](Clip& c) { c.placement.angle = v; }, "angle");
    });
    rows.add(tr("scale, angle"), sideBySide({m_scale, m_turn}, this));
    m_x = field(tr("Position across, in frame widths"), tr(" w"), 3, 0.01, rangeOf<Placement>("position"));
    m_y = field(tr("Position down, in frame heights"), tr(" h"), 3, 0.01, rangeOf<Placement>("position"));
    m_anchorX = field(tr("Anchor across, in the frame"), tr(" w"), 3, 0.01, rangeOf<Placement>("anchor"));
    m_anchorY = field(tr("Anchor down, in the frame"), tr(" h"), 3, 0.01, rangeOf<Placement>("anchor"));
    connect(m_x, &NumberField::edited, this, [this](double v) {
        change(
            tr("position"), [v](Clip& c) { c.placement.position.x = v; }, "position-x");
    });
    connect(m_y, &NumberField::edited, this, [this](double v) {
        change(
            tr("position"), [v](Clip& c) { c.placement.position.y = v; }, "position-y");
    });
    connect(m_anchorX, &NumberField::edited, this, [this](double v) {
        change(
            tr("anchor"), [v](Clip& c) { c.placement.anchor.x = v; }, "anchor-x");
    });
    connect(m_anchorY, &NumberField::edited, this, [this](double v) {
        change(
            tr("anchor"), [v](Clip& c) { c.placement.anchor.y = v; }, "anchor-y");
    });
    rows.add(tr("position"), sideBySide({m_x, m_y}, this));
    rows.add(tr("anchor"), sideBySide({m_anchorX, m_anchorY}, this));
    m_edges = new Choices({{tr("piece"), {}, tr("As the whole piece")},
                           {{}, "edges-empty", tr("Empty")},
                           {{}, "edges-hold", tr("Hold the border")},
                           {{}, "edges-repeat", tr("Repeat")},
                           {{}, "edges-mirror", tr("Mirror")}},
                          this);
    connect(m_edges, &Choices::chosen, this, [this](int i) {
        change(tr("edges of clip"), [i](Clip& c) { c.edges = i == 0 ? std::nullopt : std::optional(EdgeFill(i - 1)); });
    });
    rows.add(tr("edges"), m_edges);
}

void ClipPanel::buildCrop(FormRows& rows) {
    const QString names[] = {tr("Crop left"), tr("Crop top"), tr("Crop right"), tr("Crop bottom")};
    double Crop::*const sides[] = {&Crop::left, &Crop::top, &Crop::right, &Crop::bottom};
    for (int i = 0; i < 4; ++i) {
        m_crop[i] = field(names[i], tr(" %"), 1, 0.5, rangeOf<Crop>("left", 100));
        m_crop[i]->setFixedWidth(62);
        connect(m_crop[i], &NumberField::edited, this, [this, side = sides[i], i](double v) {
            change(
                tr("crop"),
                [side, v](Clip& c) {
                    c.crop.*side = v / 100;
                    // Something must be left.
                    if (c.crop.left + c.crop.right > 0.95 || c.crop.top + c.crop.bottom > 0.95) c.crop.*side = 0;
                },
                QStringLiteral("crop-%1").arg(i));
            refresh();
        });
    }
    rows.add(tr("crop ↔"), sideBySide({m_crop[0], m_crop[2]}, this));
    m_findBars = new QPushButton(tr("Find bars"), this);
    setTip(m_findBars, tr("Looks for black bars burnt into the shot and crops them: copies would repeat them"));
    connect(m_findBars, &QPushButton::clicked, this, &ClipPanel::searchBars);
    rows.add(tr("crop ↕"), sideBySide({m_crop[1], m_crop[3], m_findBars}, this));
}

void ClipPanel::buildEntrances(FormRows& rows) {
    for (const int side : {0, 1}) {
        m_entrance[side] = new QComboBox(this);
        for (int e = 0; e <= int(lastEntrance); ++e) {
            const std::string_view name = nameOf(Entrance(e));
            m_entrance[side]->addItem(textOf(name));
        }
        m_entrance[side]->addItem(tr("by hand"));
        m_entrance[side]->setAccessibleName(side == 0 ? tr("Entrance") : tr("Exit"));
        m_entranceFrames[side] =
            field(side == 0 ? tr("Entrance frames") : tr("Exit frames"), tr(" f"), 0, 1, {1, 1000});
        m_entranceFrames[side]->setFixedWidth(56);
        m_entrances[side] = sideBySide({m_entrance[side], m_entranceFrames[side]}, this);
        m_entranceCaptions[side] = rows.add(side == 0 ? tr("entrance") : tr("exit"), m_entrances[side]);
        const auto set = [this, side] {
            const ClipTarget t = target();
            const int way = m_entrance[side]->currentIndex();
            if (!t.overlay || t.index < 0 || way > int(lastEntrance)) return;
            const int frames = m_entranceFrames[side]->hasValue() ? int(m_entranceFrames[side]->value()) : 8;
            setEntrance(*m_document, t.index, side == 0 ? Side::Incoming : Side::Outgoing, Entrance(way),
                        std::max(1, frames));
        };
        connect(m_entrance[side], &QComboBox::activated, this, set);
        connect(m_entranceFrames[side], &NumberField::edited, this, set);
    }
}

void ClipPanel::buildSound(FormRows& rows) {
    m_gain = field(tr("Sound volume"), "%", 0, 5, rangeOf<Clip>("gain", 100));
    connect(m_gain, &NumberField::edited, this, [this](double v) {
        change(
            tr("volume"), [v](Clip& c) { c.gain = v / 100; }, "gain");
    });
    m_muted = new QCheckBox(tr("muted"), this);
    m_muted->setObjectName("muted");
    connect(m_muted, &QCheckBox::clicked, this,
            [this](bool on) { change(on ? tr("mute clip") : tr("unmute clip"), [on](Clip& c) { c.muted = on; }); });
    rows.add(tr("sound"), sideBySide({m_gain, m_muted}, this));
    rows.add(tr("its speed"), m_speedSound);
    m_deinterlace = new QCheckBox(tr("make whole pictures"), this);
    m_deinterlace->setObjectName("deinterlace");
    setTip(m_deinterlace, tr("Fill in the lines that an interlaced shot lacks at each moment"));
    m_deinterlace->setAccessibleName(tr("Deinterlace"));
    connect(m_deinterlace, &QCheckBox::clicked, this, [this](bool on) {
        change(on ? tr("deinterlace clip") : tr("keep lines as they are"), [on](Clip& c) { c.deinterlace = on; });
    });
    m_deinterlaceCaption = rows.add(tr("lines"), m_deinterlace);
}

ClipTarget ClipPanel::target() const {
    return chosenTarget(*m_document);
}

const Clip* ClipPanel::clip() const {
    return clipOf(*m_document->project(), target());
}

// A change goes to all chosen clips, so that forty shots are fitted in one step.
template <typename Change> void ClipPanel::change(const QString& name, Change change, const QString& mergeKey) {
    changeClips(*m_document, target(), name, change, mergeKey);
}

void ClipPanel::searchBars() {
    const Clip* c = clip();
    const Media* media = c ? findMedia(*m_document->project(), c->mediaId) : nullptr;
    if (!media) return;
    if (leavesBarsIn(*m_document->project(), *c)) { // found before
        cropBars(*m_document, c->mediaId);
        return;
    }
    m_findBars->setEnabled(false);
    const Rational from = c->sourceIn, to = sourceTime(*m_document->project(), *c, c->length);
    m_bars.start(
        [path = media->path, from, to](auto, const Cancel& cancel) { return findBars(path, from, to, cancel); },
        [this, id = c->id](Expected<Crop> crop) {
            m_findBars->setEnabled(true);
            if (!crop) return emit problem(QString::fromStdString(describe(crop.error())));
            const Clip* now = clip();
            if (!now || now->id != id) return; // something else is selected by now
            if (crop->isEmpty()) return emit problem(tr("There are no bars in this shot."));
            change(tr("crop bars"), [&](Clip& it) {
                if (it.id == id) it.crop = *crop;
            });
        });
}

void ClipPanel::refreshFrame(const Clip& c, const Media* media) {
    m_fit->setCurrent(int(c.fit));
    m_edges->setCurrent(c.edges ? int(*c.edges) + 1 : 0);
    m_scale->setValue(c.placement.scale * 100);
    m_turn->setValue(c.placement.angle);
    m_x->setValue(c.placement.position.x);
    m_y->setValue(c.placement.position.y);
    m_anchorX->setValue(c.placement.anchor.x);
    m_anchorY->setValue(c.placement.anchor.y);
    const double crops[] = {c.crop.left, c.crop.top, c.crop.right, c.crop.bottom};
    for (int i = 0; i < 4; ++i) m_crop[i]->setValue(crops[i] * 100);
    m_findBars->setText(leavesBarsIn(*m_document->project(), c) ? tr("Crop bars") : tr("Find bars"));
    m_findBars->setEnabled(media && media->hasPicture() && !m_bars.isRunning());
}

void ClipPanel::refresh() {
    const auto project = m_document->project();
    const ClipTarget t = target();
    const Clip* c = clip();
    const bool shows = c && !c->isGap();
    for (QWidget* w : std::initializer_list<QWidget*>{
             m_name,       m_fit,     m_edges,   m_speed,   m_backwards, m_between, m_shotBlur,
             m_speedSound, m_scale,   m_turn,    m_x,       m_y,         m_anchorX, m_anchorY,
             m_crop[0],    m_crop[1], m_crop[2], m_crop[3], m_findBars,  m_gain,    m_muted})
        w->setEnabled(shows);
    m_length->setEnabled(c);
    m_deinterlace->setVisible(false);
    m_deinterlaceCaption->setVisible(false);
    for (QWidget* w : m_entrances) w->setVisible(t.overlay && c);
    for (QLabel* l : m_entranceCaptions) l->setVisible(t.overlay && c);
    if (!c) return;
    const Media* media = findMedia(*project, c->mediaId);
    if (!m_name->isModified() && m_name->text() != QString::fromStdString(c->name))
        m_name->setText(QString::fromStdString(c->name));
    m_source->setFullText(media ? shown(media->path.string()) : tr("a gap"));
    m_facts->setText(!media ? QString()
                     : media->still
                         ? tr("%1×%2 · still").arg(media->size.width).arg(media->size.height)
                         : tr("%1×%2 · %3 · %4 s")
                                   .arg(media->size.width)
                                   .arg(media->size.height)
                                   .arg(media->rate.toDouble(), 0, 'g', 5)
                                   .arg(media->duration.toDouble(), 0, 'f', 1) +
                               (media->interlaced ? tr(" · interlaced") : QString()) +
                               (media->colour.empty() ? QString() : " · " + QString::fromStdString(media->colour)));
    const Spare spare = spareFrames(*project, *c);
    m_length->setRange(1, double(c->length + spare.after));
    m_length->setValue(double(c->length));
    m_spare->setText(spare.after >= plenty ? QString() : tr("spare %1 | %2").arg(spare.before).arg(spare.after));
    refreshSpeed(*c, media);
    refreshFrame(*c, media);
    const bool sound = media && media->sound && !media->still;
    const bool interlaced = media && media->interlaced;
    m_deinterlace->setChecked(c->deinterlace);
    m_deinterlace->setVisible(interlaced);
    m_deinterlaceCaption->setVisible(interlaced);
    m_gain->setValue(c->gain * 100);
    m_muted->setChecked(c->muted);
    m_gain->setEnabled(sound);
    m_muted->setEnabled(sound);
    for (const int side : {0, 1}) {
        if (!t.overlay) {
            m_entrance[side]->setCurrentIndex(0);
            m_entranceFrames[side]->clearValue();
            continue;
        }
        int frames = 0;
        const auto way =
            entranceOf(project->overlays[std::size_t(t.index)], side == 0 ? Side::Incoming : Side::Outgoing, &frames);
        m_entrance[side]->setCurrentIndex(way ? int(*way) : int(lastEntrance) + 1);
        m_entranceFrames[side]->setEnabled(way && *way != Entrance::Cut);
        if (frames > 0)
            m_entranceFrames[side]->setValue(frames);
        else
            m_entranceFrames[side]->setValue(8);
    }
}

} // namespace virga
