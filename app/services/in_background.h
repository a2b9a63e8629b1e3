#pragma once
// Runs a function on a pool thread and hands its result back on the interface thread, unless the receiver is gone by
// then. What it throws is told by Failures, and to `failed`.
#include <QCoreApplication>
#include <QObject>
#include <QPointer>
#include <QThreadPool>
#include <atomic>
#include <memory>

#include "app/services/failures.h"
#include "core/base/guard.h"

namespace virga {

struct NobodyAsks {
    void operator()(const Error&) const {}
};

#if defined(__SANITIZE_THREAD__)
// The thread sanitizer cannot see into Qt: what Qt hands over would be a race wherever a thread of ours reads it.
template <typename Run> auto handedOver(Run run) {
    const auto given = std::make_shared<std::atomic<bool>>(false);
    auto taken = [given, run = std::move(run)]() mutable {
        given->load(std::memory_order_acquire);
        run();
    };
    given->store(true, std::memory_order_release);
    return taken;
}
#else
template <typename Run> Run handedOver(Run run) {
    return run;
}
#endif

template <typename Work, typename Done, typename Failed = NobodyAsks>
void inBackground(QObject* receiver, Work work, Done done, QThreadPool* pool = QThreadPool::globalInstance(),
                  Failed failed = {}) {
    const QPointer<QObject> alive(receiver);
    auto run = [alive, work = std::move(work), done = std::move(done), failed = std::move(failed)]() mutable {
        std::shared_ptr<decltype(work())> result;
        const auto ran = guarded({}, [&]() -> void { result = std::make_shared<decltype(work())>(work()); });
        if (!ran) {
            QMetaObject::invokeMethod(qApp,
                                      handedOver([alive, error = ran.error(), failed = std::move(failed)]() mutable {
                                          if (alive) failed(error);
                                          emit Failures::all().told(error);
                                      }));
            return;
        }
        // The pointer is looked at on the interface thread only: there the receiver cannot vanish in between.
        QMetaObject::invokeMethod(qApp, handedOver([alive, result, done = std::move(done)]() mutable {
                                      if (alive) done(std::move(*result));
                                  }));
    };
    pool->start(handedOver(std::move(run)));
}

} // namespace virga
