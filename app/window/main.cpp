#include <cstdio>

#include "app/window/heap.h"
#include "app/window/start.h"
#include "core/base/guard.h"
#include "core/base/output.h"

int main(int argc, char** argv) {
    virga::giveMemoryBack();
    virga::openMissingStreams();
    virga::removePartFilesWhenEnded();
    const auto code = virga::guarded({}, [&] { return virga::runApplication(argc, argv); });
    if (code) return *code;
    std::fprintf(stderr, "virga: %s\n", virga::describe(code.error()).c_str());
    return 2;
}
