#pragma once
// The one error type of Virga: what happened, where, and what to do about it. Everything that touches files, media or
// user input returns Expected<T>; programmer errors are assertions.
#include <string>
#include <tl/expected.hpp>
#include <utility>

namespace virga {

enum class ErrorCode {
    NotFound,    // a file or an object is not there
    Unreadable,  // it is there, but its bytes are not what they should be
    Unsupported, // understood, but not something Virga can do
    BadInput,    // the user's own words or numbers are off
    WriteFailed, // the disk or the encoder said no
    Changed,     // it is not what it was when it was read: somebody else wrote it
    Cancelled,   // the user stopped it
    OutOfMemory, // the machine's memory does not do
    Internal,    // something that nobody foresaw
};

struct Error {
    ErrorCode code = ErrorCode::BadInput;
    std::string message; // what happened, one sentence without a full stop
    std::string place;   // file, or file and place inside it; empty where there is none
    std::string remedy;  // what the user can do, one sentence without a full stop; may be empty

    bool operator==(const Error&) const = default;
};

template <typename T> using Expected = tl::expected<T, Error>;

/// The error as one line: "PLACE: MESSAGE; REMEDY".
std::string describe(const Error& error);

/// Shorthand for returning an error from a function with an Expected result.
inline tl::unexpected<Error> fail(ErrorCode code, std::string message, std::string place = {},
                                  std::string remedy = {}) {
    return tl::unexpected<Error>(Error{code, std::move(message), std::move(place), std::move(remedy)});
}

} // namespace virga
