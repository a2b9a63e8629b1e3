#pragma once
// Background work that must never be in the way of what is being done: its threads give way, but never starve, as the
// scheduler's idle class would have them do on a busy machine.
#include <sys/resource.h>
#include <unistd.h>

namespace virga {

/// Makes the calling thread, and threads that it starts, give way from now on. Linux's niceness is each thread's own.
inline void beNice() {
    thread_local bool done = false;
    if (!done) setpriority(PRIO_PROCESS, id_t(gettid()), 12);
    done = true;
}

} // namespace virga
