// The main program of tests that need no window.
#include <gtest/gtest.h>

#include "tests/support/cases.h"

int main(int argc, char** argv) {
    testing::InitGoogleTest(&argc, argv);
    virga::test::watchCases();
    return RUN_ALL_TESTS();
}
