#pragma once
// The loudest sample of each 1/100 second of a sound file, read in the background and kept.
#include <QHash>
#include <QObject>
#include <QSet>
#include <QVector>

#include "core/base/cancel.h"
#include "core/project/project.h"

namespace virga {

class Waveforms : public QObject {
    Q_OBJECT
public:
    explicit Waveforms(QObject* parent = nullptr) : QObject(parent) {}
    ~Waveforms() override { m_cancel.request(); }
    static constexpr int perSecond = 100;

    /// Peaks from 0 to 1, or an empty list while they are being read.
    QVector<float> get(const Media& media);
    bool isIdle() const { return m_wanted.isEmpty(); }

signals:
    void ready();

private:
    QHash<QString, QVector<float>> m_peaks;
    QSet<QString> m_wanted;
    Cancel m_cancel;
};

} // namespace virga
