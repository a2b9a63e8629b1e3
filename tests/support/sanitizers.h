#pragma once

namespace virga::test {

// True in a program that was compiled with the address or the thread sanitizer: everything takes many times longer, the
// sanitizer's runtime must be the first library loaded, and memory cannot be limited.
#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
constexpr bool underSanitizer = true;
#elif defined(__has_feature) // clang
#if __has_feature(address_sanitizer) || __has_feature(thread_sanitizer)
constexpr bool underSanitizer = true;
#else
constexpr bool underSanitizer = false;
#endif
#else
constexpr bool underSanitizer = false;
#endif

} // namespace virga::test
