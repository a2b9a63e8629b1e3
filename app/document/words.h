#pragma once
// Numbers with their nouns, as people write them: "1 shot", "8 shots".
#include <QCoreApplication>
#include <QString>

namespace virga {

/// "1 frame" or "12 frames"; both words are given, so that neither is guessed.
inline QString counted(qint64 n, const char* one, const char* many) {
    return QStringLiteral("%1 %2").arg(n).arg(QCoreApplication::translate("virga", n == 1 ? one : many));
}

} // namespace virga
