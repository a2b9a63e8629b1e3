#pragma once
// Writing the piece: what, how and where on the left, and the exports that were asked for on the right. It stays open
// beside the window; editing goes on.
#include <QDialog>

#include "app/export/export_queue.h"
#include "app/services/job.h"
#include "core/export/export_preset.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace virga {

class Choices;

class ExportDialog : public QDialog {
    Q_OBJECT
public:
    ExportDialog(Document* document, ExportQueue* queue, QWidget* parent = nullptr);
    /// What the project is by now: cut, marked span, playhead.
    void refresh();

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    enum Kind { WholeReel, AroundCut, MarkedSpan, OneFrame, EachCut };
    void buildForm(QVBoxLayout* column);
    void buildQueue(QVBoxLayout* column);
    void fillPresets(const QString& chosen);
    void takePreset(const ExportPreset& preset);
    ExportPreset preset() const;
    void formatChanged();
    void fitEnding();
    void estimate();
    void tellSteps(const std::vector<int>& cuts);
    void matchCurves();
    void keepPreset();
    void removePreset();
    ExportKind kind() const;
    PartsSettings settings() const; // without the file's name
    void browse();
    void start();
    void tell(const QString& text);

    Document* m_document;
    ExportQueue* m_queue;
    QComboBox *m_presets, *m_format, *m_quality, *m_bits, *m_size, *m_rate, *m_sound;
    QLineEdit* m_path;
    Choices *m_kind, *m_range, *m_enlarging;
    QCheckBox* m_alpha;
    QLabel *m_summary, *m_told, *m_formatTold, *m_steps;
    QPushButton *m_start, *m_remove, *m_pause, *m_matchCurves;
    Job m_counting, m_matching;
    bool m_filling = false;
    bool m_hidden = false; // then nothing is worked out
};

} // namespace virga
