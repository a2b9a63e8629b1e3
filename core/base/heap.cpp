#include "core/base/heap.h"

#ifdef __GLIBC__
#include <malloc.h>
#endif

namespace virga {

void useFewHeaps() {
#ifdef __GLIBC__
    mallopt(M_ARENA_MAX, 2);
#endif
}

} // namespace virga
