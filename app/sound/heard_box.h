#pragma once
// Movement heard: whether it is, its few parameters, and its level drawn around the playhead.
#include <QTimer>
#include <QWidget>
#include <vector>

#include "app/document/document.h"

class QCheckBox;

namespace virga {

class NumberField;

/// How loud the movement is around the playhead.
class HeardCurve : public QWidget {
    Q_OBJECT
public:
    explicit HeardCurve(Document* document, QWidget* parent = nullptr);
    /// Strengths of equally spaced moments, over four seconds before and behind the playhead.
    const std::vector<double>& strengths() const { return m_strengths; }
    bool isIdle() const { return !m_busy && !m_wait.isActive(); }
    QSize sizeHint() const override { return {240, 54}; }

protected:
    void paintEvent(QPaintEvent* event) override;
    void showEvent(QShowEvent* event) override;

private:
    void lookSoon();
    void look();
    Document* m_document;
    QTimer m_wait;
    std::vector<double> m_strengths;
    bool m_busy = false, m_again = false;
};

class HeardBox : public QWidget {
    Q_OBJECT
public:
    explicit HeardBox(Document* document, QWidget* parent = nullptr);
    HeardCurve* curve() { return m_curve; }

signals:
    void stemsWanted();

private:
    void refresh();
    Document* m_document;
    QCheckBox* m_on;
    std::vector<NumberField*> m_fields;
    QWidget* m_rest;
    HeardCurve* m_curve;
};

} // namespace virga
