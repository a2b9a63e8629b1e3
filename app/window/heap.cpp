#include "app/window/heap.h"

#include <cstdlib> // tells which C library it is
#ifdef __GLIBC__
#include <malloc.h>
#endif

namespace virga {

void giveMemoryBack() {
#ifdef __GLIBC__
    // Once one is set, the allocator no longer raises the size from which blocks are mapped by themselves.
    mallopt(M_MMAP_THRESHOLD, 128 << 10);
    mallopt(M_TRIM_THRESHOLD, 16 << 20);
    mallopt(M_ARENA_MAX, 2);
#endif
}

} // namespace virga
