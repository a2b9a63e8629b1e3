#pragma once
// Long lists that people have read and found right, kept beside their tests.
#include <string>

#include "core/curve/curve.h"

namespace virga::test {

/// Compares a text with the file of that name below tests/, part by part: a part begins with a line "== its name". A
/// change is looked at before it is taken over, by running the test once with VIRGA_WRITE_TOLD=1.
void expectAsRead(const std::string& file, const std::string& text);

/// A number in such a list: nothing at all as 0, "none" for what is no number.
std::string number(double value, int digits = 5);
/// A curve's keys: time and value, before them how it arrives (<reach rise), after them how it leaves.
std::string textOf(const Curve& curve, int digits = 5);

} // namespace virga::test
