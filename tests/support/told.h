#pragma once
// Long lists that people have read and found right, kept beside their tests.
#include <string>

namespace virga::test {

/// Compares a text with the file of that name below tests/, part by part: a part begins with a line "== its name". A
/// change is looked at before it is taken over, by running the test once with VIRGA_WRITE_TOLD=1.
void expectAsRead(const std::string& file, const std::string& text);

} // namespace virga::test
