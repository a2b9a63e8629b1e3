#include "core/base/error.h"

#include "core/base/printable.h"

namespace virga {

std::string describe(const Error& error) {
    std::string line;
    if (!error.place.empty()) line += error.place + ": ";
    line += error.message;
    if (!error.remedy.empty()) line += "; " + error.remedy;
    return printable(line);
}

} // namespace virga
