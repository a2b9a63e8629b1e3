#pragma once
// Runs a function on a pool thread and hands its result back on the interface thread, unless the receiver is gone by
// then.
#include <QCoreApplication>
#include <QObject>
#include <QPointer>
#include <QThreadPool>
#include <memory>

namespace virga {

template <typename Work, typename Done>
void inBackground(QObject* receiver, Work work, Done done, QThreadPool* pool = QThreadPool::globalInstance()) {
    const QPointer<QObject> alive(receiver);
    pool->start([alive, work = std::move(work), done = std::move(done)]() mutable {
        auto result = std::make_shared<decltype(work())>(work());
        // The pointer is looked at on the interface thread only: there the receiver cannot vanish in between.
        QMetaObject::invokeMethod(qApp, [alive, result, done = std::move(done)]() mutable {
            if (alive) done(std::move(*result));
        });
    });
}

} // namespace virga
