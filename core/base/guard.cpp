#include "core/base/guard.h"

#include <filesystem>

namespace virga {

Error caughtError(const std::string& place) {
    try {
        throw;
    } catch (const std::bad_alloc&) {
        return {ErrorCode::OutOfMemory, "there is not enough memory for it", place,
                "close other programs, or use smaller pictures"};
    } catch (const std::filesystem::filesystem_error& error) {
        return {ErrorCode::Unreadable, "cannot be reached (" + error.code().message() + ")",
                error.path1().empty() ? place : error.path1().string(), "check the name and the folder's permissions"};
    } catch (const std::exception& error) {
        return {ErrorCode::Internal, std::string("went wrong in a way that was not foreseen (") + error.what() + ")",
                place, "what was saved is safe; please report this message"};
    } catch (...) {
        return {ErrorCode::Internal, "went wrong in a way that was not foreseen", place,
                "what was saved is safe; please report what you did"};
    }
}

} // namespace virga
