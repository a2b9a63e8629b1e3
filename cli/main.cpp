#include "cli/options.h"

int main(int argc, char** argv) {
    return virga::cli::run(argc, argv);
}
