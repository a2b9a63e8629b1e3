#pragma once
// A loop over all cores: oneTBB's. Under the thread sanitizer, which cannot see into that library and would report
// every hand-over as a race, plain threads do the same work, so that what it reports is ours.
#include <cstddef>

#include "core/base/one_thread.h"

#if defined(__SANITIZE_THREAD__)
#include <atomic>
#include <thread>
#include <vector>
#else
#include <tbb/parallel_for.h>
#endif

namespace virga {

/// Calls work(0) to work(count - 1), in any order, on any threads, and returns when all are done. REQUIRES: the calls
/// do not depend on each other and throw nothing.
template <typename Work> void inParallel(std::size_t count, const Work& work) {
    if (OneThread::isOn()) {
        for (std::size_t i = 0; i < count; ++i) work(i);
        return;
    }
#if defined(__SANITIZE_THREAD__)
    std::atomic<std::size_t> next = 0;
    const auto run = [&] {
        for (std::size_t i = next++; i < count; i = next++) work(i);
    };
    std::vector<std::thread> threads;
    for (int i = 0; i < 3; ++i) threads.emplace_back(run);
    run();
    for (std::thread& thread : threads) thread.join();
#else
    tbb::parallel_for(std::size_t(0), count, work);
#endif
}

} // namespace virga
