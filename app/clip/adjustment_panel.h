#pragma once
// The selected adjustment: its span and what it does to the reel beneath it. And a marker's name.
#include <QWidget>

#include "app/document/document.h"

class QCheckBox;
class QLineEdit;

namespace virga {

class NumberField;

class AdjustmentPanel : public QWidget {
    Q_OBJECT
public:
    AdjustmentPanel(Document* document, QWidget* parent = nullptr);

private:
    void refresh();
    template <typename Change> void change(const QString& name, Change change, const QString& mergeKey = {});

    Document* m_document;
    QLineEdit* m_name;
    NumberField *m_start, *m_length, *m_ratio;
    QCheckBox* m_bars;
};

class MarkerPanel : public QWidget {
    Q_OBJECT
public:
    MarkerPanel(Document* document, QWidget* parent = nullptr);

private:
    void refresh();
    Document* m_document;
    QLineEdit* m_name;
    NumberField* m_frame;
};

} // namespace virga
