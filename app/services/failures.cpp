#include "app/services/failures.h"

namespace virga {

Failures& Failures::all() {
    static Failures failures;
    return failures;
}

} // namespace virga
