#pragma once
// Changes JSON as JSON, so that most of what is tried gets past the parser: values, fields and list elements are
// exchanged, removed, repeated, and numbers put to where things break. One change in eight is libFuzzer's own, of
// bytes. Include it once in a fuzzer's program.
#include <cstddef>
#include <cstdint>

extern "C" std::size_t LLVMFuzzerCustomMutator(std::uint8_t* data, std::size_t size, std::size_t most,
                                               unsigned int seed);
