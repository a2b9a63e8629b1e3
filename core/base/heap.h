#pragma once
// How the C library's allocator keeps freed memory.

namespace virga {

/// Two heaps for all threads in place of eight a core, each of which keeps what its threads freed: a window with many
/// threads and large pictures then holds a quarter less. Once, at the beginning of main().
void useFewHeaps();

} // namespace virga
