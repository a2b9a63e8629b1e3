#include "core/base/version.h"

namespace virga {

const char* version() {
    return VIRGA_VERSION;
}

} // namespace virga
