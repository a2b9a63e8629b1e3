#pragma once
// Words for people: numbers with their nouns ("1 shot", "8 shots"), and the core's own words as Qt's.
#include <QCoreApplication>
#include <QString>
#include <string_view>

namespace virga {

/// "1 frame" or "12 frames"; both words are given, so that neither is guessed.
inline QString counted(qint64 n, const char* one, const char* many) {
    return QStringLiteral("%1 %2").arg(n).arg(QCoreApplication::translate("virga", n == 1 ? one : many));
}

/// A word of one of the core's tables.
inline QString textOf(std::string_view word) {
    return QString::fromUtf8(word.data(), int(word.size()));
}

} // namespace virga
