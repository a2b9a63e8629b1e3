#include "cli/options.h"
#include "core/base/output.h"

int main(int argc, char** argv) {
    virga::openMissingStreams();
    virga::removePartFilesWhenEnded();
    return virga::cli::run(argc, argv);
}
