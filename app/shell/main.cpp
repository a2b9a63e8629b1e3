#include "app/shell/start.h"

int main(int argc, char** argv) {
    return virga::runApplication(argc, argv);
}
