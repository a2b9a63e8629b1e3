#include "app/services/job.h"

#include <cmath>

namespace virga {

QString Job::timeLeft() const {
    if (!m_running || m_part < 0.03 || m_clock.elapsed() < 800) return {};
    const double left = double(m_clock.elapsed()) / 1000 * (1 - m_part) / m_part;
    return left < 90 ? tr("about %1 s left").arg(int(std::ceil(left)))
                     : tr("about %1 min left").arg(int(std::ceil(left / 60)));
}

QThreadPool* Job::threads() {
    static QPointer<QThreadPool> pool;
    if (!pool) {
        pool = new QThreadPool(qApp);
        pool->setMaxThreadCount(4);
    }
    return pool;
}

void Job::stop() {
    if (!m_running) return;
    m_cancel.request();
    end();
}

void Job::begin() {
    ++m_generation;
    m_running = true;
    m_part = 0;
    m_clock.start();
    emit runningChanged(true);
}

void Job::end() {
    ++m_generation;
    m_running = false;
    emit runningChanged(false);
}

void Job::setPart(double part) {
    m_part = part;
    emit progress(part);
}

} // namespace virga
