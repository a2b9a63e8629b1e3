#pragma once
// Writing the piece as a file: where, how large, which part; then progress, time left and cancel.
#include <QDialog>

#include "app/background/job.h"
#include "app/document/document.h"
#include "core/deliver/export_reel.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;

namespace virga {

class Choices;
class ExportJob;

class ExportDialog : public QDialog {
    Q_OBJECT
public:
    ExportDialog(Document* document, QWidget* parent = nullptr);
    void reject() override;

private:
    void refresh();
    void countInBetweens();
    ExportSettings settings() const; // without the file's name
    void browse();
    void start();
    void ended(const QString& text, bool good);

    Document* m_document;
    QLineEdit* m_path;
    QComboBox *m_size, *m_quality;
    Choices *m_range, *m_depth, *m_enlarging;
    QCheckBox* m_sound;
    QLabel *m_summary = nullptr, *m_state = nullptr;
    QProgressBar* m_bar;
    QPushButton *m_start, *m_close, *m_browse;
    ExportJob* m_job = nullptr;
    Job m_counting;
    QString m_needs;   // what the summary says but for the pictures in between
    int m_missing = 0; // of them, whose flow is still to be found
};

} // namespace virga
