#pragma once
// The queue as a list: a row for each export with its progress, how it ended, and what can be done with it.
#include <QScrollArea>

#include "app/export/export_queue.h"

class QLabel;
class QProgressBar;
class QToolButton;
class QVBoxLayout;

namespace virga {

class ElidedLabel;

class ExportRow : public QWidget {
    Q_OBJECT
public:
    ExportRow(ExportQueue* queue, int id, QWidget* parent);
    int id() const { return m_id; }
    void refresh();

private:
    ExportQueue* m_queue;
    int m_id;
    ElidedLabel* m_name;
    QLabel* m_state;
    QProgressBar* m_bar;
    QToolButton *m_again, *m_folder, *m_away;
};

class ExportList : public QScrollArea {
    Q_OBJECT
public:
    ExportList(ExportQueue* queue, QWidget* parent);

private:
    void rebuild();

    ExportQueue* m_queue;
    QVBoxLayout* m_rows;
    QLabel* m_nothing;
    std::vector<ExportRow*> m_shown;
};

} // namespace virga
