#pragma once
// The selected clip or overlay, or the clip under the playhead: name, length, speed, how it fills the frame, edges,
// sound, and for an overlay how it comes in and goes out.
#include <QWidget>

#include "app/commands/clip_commands.h"
#include "app/document/document.h"
#include "app/services/in_betweens.h"
#include "app/services/job.h"
#include "core/edit/layer_edits.h"
#include "core/project/field_range.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace virga {

class Choices;
class ElidedLabel;
class FormRows;
class NumberField;

class ClipPanel : public QWidget {
    Q_OBJECT
public:
    ClipPanel(Document* document, InBetweens* inBetweens, QWidget* parent = nullptr);

signals:
    void problem(const QString& text);

private:
    /// What the panel is about: a clip of the reel or an overlay.
    ClipTarget target() const;
    const Clip* clip() const;
    void refresh();
    void buildTime(FormRows& rows);
    void buildSpeed(FormRows& rows);
    void buildFrame(FormRows& rows);
    void buildCrop(FormRows& rows);
    void buildSound(FormRows& rows);
    void buildEntrances(FormRows& rows);
    void refreshProgress();
    void refreshSpeed(const Clip& c, const Media* media);
    void refreshFrame(const Clip& c, const Media* media);
    template <typename Change> void change(const QString& name, Change change, const QString& mergeKey = {});
    NumberField* field(const QString& accessibleName, const QString& unit, int decimals, double step, FieldRange range);
    void searchBars();

    Document* m_document;
    Job m_bars;
    QLineEdit* m_name;
    ElidedLabel* m_source;
    QLabel *m_facts, *m_spare, *m_entranceCaptions[2];
    NumberField *m_length, *m_speed, *m_scale, *m_turn, *m_x, *m_y, *m_anchorX, *m_anchorY, *m_gain;
    NumberField* m_crop[4];
    Choices *m_fit, *m_edges, *m_between;
    QPushButton* m_backwards;
    NumberField* m_shotBlur;
    QComboBox* m_speedSound;
    QLabel* m_progress;
    QWidget* m_making;   // the row of both
    QPushButton* m_stop; // of pictures in between being made ready
    InBetweens* m_inBetweens;
    QCheckBox* m_muted;
    QCheckBox* m_deinterlace;
    QLabel* m_deinterlaceCaption;
    QPushButton* m_findBars;
    QWidget* m_entrances[2];
    QComboBox* m_entrance[2];
    NumberField* m_entranceFrames[2];
};

} // namespace virga
