#include "app/style/theme.h"

#include <QApplication>
#include <QFile>
#include <QFontDatabase>
#include <QJsonDocument>
#include <QJsonObject>
#include <QPalette>
#include <QPixmapCache>
#include <algorithm>

static void initResources() {
    Q_INIT_RESOURCE(style_files);
}

namespace virga {
namespace {

Theme current;

struct Token {
    const char* name;
    QColor Theme::*colour;
};
constexpr Token tokens[] = {
    {"window", &Theme::window},     {"panel", &Theme::panel},       {"raised", &Theme::raised},
    {"line", &Theme::line},         {"chart", &Theme::chart},       {"grid", &Theme::grid},
    {"text", &Theme::text},         {"dim", &Theme::dim},           {"faint", &Theme::faint},
    {"outgoing", &Theme::outgoing}, {"incoming", &Theme::incoming}, {"breaks", &Theme::breaks},
    {"look", &Theme::look},         {"fine", &Theme::fine},         {"playhead", &Theme::playhead},
    {"strong", &Theme::strong},     {"onStrong", &Theme::onStrong}, {"shade", &Theme::shade},
};

QByteArray resource(const QString& name) {
    QFile file(":/" + name);
    return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
}

void loadFonts() {
    static const bool once = [] {
        initResources();
        for (const char* f : {"Inter-Regular.otf", "Inter-Medium.otf", "Inter-SemiBold.otf",
                              "JetBrainsMono-Regular.ttf", "JetBrainsMono-Medium.ttf"})
            QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/") + f);
        return true;
    }();
    Q_UNUSED(once)
}

} // namespace

const Theme& theme() {
    return current;
}

void useTheme(const QString& name) {
    loadFonts();
    const QJsonObject all = QJsonDocument::fromJson(resource("tokens.json")).object();
    const QString chosen = all.contains(name) ? name : QStringLiteral("night");
    const QJsonObject values = all[chosen].toObject();
    current.name = chosen;
    QString sheet = QString::fromUtf8(resource("virga.qss"));
    sheet.replace("@theme", chosen);
    // Longer names first, so that @line does not eat the beginning of another token.
    QStringList names;
    for (const Token& t : tokens) {
        current.*t.colour = QColor(values[t.name].toString());
        names << t.name;
    }
    std::sort(names.begin(), names.end(), [](const QString& a, const QString& b) { return a.size() > b.size(); });
    for (const QString& n : names) sheet.replace("@" + n, values[n].toString());
    QPalette palette;
    palette.setColor(QPalette::Window, current.window);
    palette.setColor(QPalette::Base, current.chart);
    palette.setColor(QPalette::Text, current.text);
    palette.setColor(QPalette::WindowText, current.text);
    palette.setColor(QPalette::ButtonText, current.text);
    palette.setColor(QPalette::Button, current.raised);
    palette.setColor(QPalette::PlaceholderText, current.faint);
    palette.setColor(QPalette::Link, current.incoming);
    QPixmapCache::clear();
    qApp->setPalette(palette);
    qApp->setFont(textFont());
    qApp->setStyleSheet(sheet);
}

QFont textFont(int pixels, QFont::Weight weight) {
    QFont font("Inter");
    font.setPixelSize(std::max(10, pixels));
    font.setWeight(weight);
    return font;
}

QFont numberFont(int pixels) {
    QFont font("JetBrains Mono");
    font.setPixelSize(std::max(10, pixels));
    return font;
}

} // namespace virga
