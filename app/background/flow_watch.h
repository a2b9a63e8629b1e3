#pragma once
// The flow check of every cut, kept up to date in the background.
#include <QObject>
#include <QTimer>
#include <vector>

#include "app/document/document.h"
#include "core/flow/flow.h"

namespace virga {

class FlowWatch : public QObject {
    Q_OBJECT
public:
    explicit FlowWatch(Document* document, QObject* parent = nullptr);

    /// What was found at a cut, of the latest finished check; null before the first one.
    const CutFlow* at(int cut) const;
    int findings() const;
    bool isIdle() const { return !m_running && !m_again && !m_timer.isActive(); }

signals:
    void changed();

private:
    void check();
    Document* m_document;
    QTimer m_timer;
    std::vector<CutFlow> m_cuts;
    bool m_running = false, m_again = false;
};

} // namespace virga
