#pragma once
// How the C library's allocator keeps freed memory.

namespace virga {

/// Large blocks (pictures) go back to the system once they are freed, in place of lying about in a heap of each thread,
/// and threads share two heaps: a window with many threads holds a quarter less. Costs about 5 % of the rendering's
/// time, so a program that renders once and ends does without. Once, at the beginning of main().
void giveMemoryBack();

} // namespace virga
