#pragma once
// Runs a function on a pool thread and hands its result back on the interface thread, unless the receiver is gone by
// then. What it throws is told by Failures, and to `failed`.
#include <QCoreApplication>
#include <QObject>
#include <QPointer>
#include <QThreadPool>
#include <memory>

#include "app/background/failures.h"
#include "core/base/guard.h"

namespace virga {

struct NobodyAsks {
    void operator()(const Error&) const {}
};

template <typename Work, typename Done, typename Failed = NobodyAsks>
void inBackground(QObject* receiver, Work work, Done done, QThreadPool* pool = QThreadPool::globalInstance(),
                  Failed failed = {}) {
    const QPointer<QObject> alive(receiver);
    pool->start([alive, work = std::move(work), done = std::move(done), failed = std::move(failed)]() mutable {
        std::shared_ptr<decltype(work())> result;
        const auto ran = guarded({}, [&]() -> void { result = std::make_shared<decltype(work())>(work()); });
        if (!ran) {
            QMetaObject::invokeMethod(qApp, [alive, error = ran.error(), failed = std::move(failed)]() mutable {
                if (alive) failed(error);
                emit Failures::all().told(error);
            });
            return;
        }
        // The pointer is looked at on the interface thread only: there the receiver cannot vanish in between.
        QMetaObject::invokeMethod(qApp, [alive, result, done = std::move(done)]() mutable {
            if (alive) done(std::move(*result));
        });
    });
}

} // namespace virga
