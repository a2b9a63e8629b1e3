#pragma once
// Writing the piece as a file: where, how large, which part; then progress, time left and cancel.
#include <QDialog>

#include "app/document/document.h"

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
    void browse();
    void start();
    void ended(const QString& text, bool good);

    Document* m_document;
    QLineEdit* m_path;
    QComboBox *m_size, *m_quality;
    Choices* m_range;
    QCheckBox* m_sound;
    QLabel *m_summary, *m_state;
    QProgressBar* m_bar;
    QPushButton *m_start, *m_close, *m_browse;
    ExportJob* m_job = nullptr;
};

} // namespace virga
