#pragma once
// Starting the application: options, the window, and pictures of it for the documents.

namespace virga {

/// Runs the window; the process's exit code: 0 fine, 2 bad usage or input.
int runApplication(int argc, char** argv);

} // namespace virga
