#pragma once
// Watches over the cases of a test program: whole programs run many of them in one process, and one that crashes or
// never ends has to be known by its name.

namespace virga::test {

/// Seconds that one case may take before its program is ended with the case's name.
inline constexpr int longestCase = 300;

/// Has the program say which case it was in when it crashes, is ended, or does not come to an end. Call once, after
/// InitGoogleTest.
void watchCases();

} // namespace virga::test
