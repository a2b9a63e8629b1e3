#pragma once
// The manual page of the window's program, made of the same options that --help prints.
#include <QCommandLineOption>
#include <QList>
#include <string>

namespace virga {

/// As text for man(1).
std::string manualPage(const QString& summary, const QList<QCommandLineOption>& options);

} // namespace virga
