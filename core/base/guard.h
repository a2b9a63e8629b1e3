#pragma once
// The one net under threads and programs: whatever a piece of work throws, refused memory included, comes out as an
// Error. Virga itself throws nothing across functions; libraries do.
#include <exception>
#include <new>
#include <type_traits>

#include "core/base/error.h"

namespace virga {

/// What a caught exception is to a person. REQUIRES: called inside a catch block.
Error caughtError(const std::string& place);

template <typename T> struct IsExpected : std::false_type {};
template <typename T> struct IsExpected<Expected<T>> : std::true_type {};

/// The work's result, or its Error, or what it threw as one; `place` says where, a file's name mostly.
template <typename Work> auto guarded(const std::string& place, Work&& work) {
    using Result = std::invoke_result_t<Work>;
    if constexpr (IsExpected<Result>::value) {
        try {
            return Result(work());
        } catch (...) {
            return Result(tl::unexpected(caughtError(place)));
        }
    } else if constexpr (std::is_void_v<Result>) {
        try {
            work();
            return Expected<void>();
        } catch (...) {
            return Expected<void>(tl::unexpected(caughtError(place)));
        }
    } else {
        try {
            return Expected<Result>(work());
        } catch (...) {
            return Expected<Result>(tl::unexpected(caughtError(place)));
        }
    }
}

} // namespace virga
