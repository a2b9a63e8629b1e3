#include "app/document/kept_shapes.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QStandardPaths>
#include <algorithm>
#include <cmath>

#include "core/base/file.h"
#include "core/base/json.h"

namespace virga {
namespace {

constexpr const char* kinds[] = {"hold", "linear", "eased"};

QJsonArray toJson(const Handle& h) {
    return {h.reach, h.rise};
}

QJsonObject toJson(const KeptShape& shape) {
    QJsonArray keys;
    for (const Key& k : shape.easing.unit.keys)
        keys.append(QJsonObject{{"time", k.time},
                                {"way", k.value},
                                {"next", kinds[std::size_t(k.next)]},
                                {"leave", toJson(k.leave)},
                                {"arrive", toJson(k.arrive)}});
    return {{"name", shape.name}, {"keys", keys}};
}

Handle handleFrom(const QJsonValue& v) {
    const QJsonArray a = v.toArray();
    return {std::clamp(a.at(0).toDouble(1.0 / 3), 0.0, 1.0), a.at(1).toDouble()};
}

std::optional<KeptShape> shapeFrom(const QJsonObject& object) {
    KeptShape shape{object["name"].toString().trimmed(), {}};
    auto& keys = shape.easing.unit.keys;
    for (const QJsonValue& v : object["keys"].toArray()) {
        Key key{v["time"].toDouble(NAN), v["way"].toDouble(NAN), Interpolation::Eased, handleFrom(v["leave"]),
                handleFrom(v["arrive"])};
        for (std::size_t i = 0; i < 3; ++i)
            if (v["next"].toString() == kinds[i]) key.next = Interpolation(i);
        if (!std::isfinite(key.time) || !std::isfinite(key.value)) return std::nullopt;
        if (!keys.empty() && key.time <= keys.back().time) return std::nullopt;
        keys.push_back(key);
    }
    const bool whole = keys.size() >= 2 && keys.front().time == 0 && keys.front().value == 0 && keys.back().time == 1 &&
                       keys.back().value == 1;
    if (!whole || shape.name.isEmpty()) return std::nullopt;
    return shape;
}

} // namespace

KeptShapes& KeptShapes::instance() {
    static KeptShapes shapes(QStandardPaths::writableLocation(QStandardPaths::AppConfigLocation) + "/shapes.json");
    return shapes;
}

KeptShapes::KeptShapes(const QString& path) : m_path(path) {
    read();
}

void KeptShapes::read() {
    if (!QFile::exists(m_path)) return;
    const auto text = readFile(m_path.toStdString(), std::size_t(16) << 20);
    bool sound = text && parseJson(*text, "a list of shapes", m_path.toStdString());
    if (sound) {
        const QJsonDocument document = QJsonDocument::fromJson(QByteArray::fromStdString(*text));
        sound = document.isObject() && document["shapes"].isArray();
        for (const QJsonValue& v : document["shapes"].toArray()) {
            if (auto shape = shapeFrom(v.toObject()))
                m_all.push_back(std::move(*shape));
            else
                sound = false;
        }
    }
    if (sound) return;
    const QString aside = m_path + ".unreadable";
    QFile::remove(aside);
    QFile::copy(m_path, aside);
    m_problem = tr("Some of your own shapes could not be read from %1. The file was kept as %2.").arg(m_path, aside);
}

Expected<void> KeptShapes::write() const {
    QJsonArray shapes;
    for (const KeptShape& shape : m_all) shapes.append(toJson(shape));
    QDir().mkpath(QFileInfo(m_path).absolutePath());
    const QByteArray bytes = QJsonDocument(QJsonObject{{"version", 1}, {"shapes", shapes}}).toJson();
    const std::string_view text(bytes.constData(), std::size_t(bytes.size()));
    if (const auto done = writeFileAtomically(m_path.toStdString(), text); !done)
        return fail(ErrorCode::WriteFailed, "your shapes could not be written: " + done.error().message,
                    m_path.toStdString(), "they stay until Virga is closed; make room or allow writing there");
    return {};
}

Expected<void> KeptShapes::keep(const QString& name, const Easing& easing) {
    const auto at = std::find_if(m_all.begin(), m_all.end(), [&](const KeptShape& s) { return s.name == name; });
    if (at == m_all.end())
        m_all.push_back({name, easing});
    else
        at->easing = easing;
    emit changed();
    return write();
}

Expected<void> KeptShapes::forget(const QString& name) {
    std::erase_if(m_all, [&](const KeptShape& s) { return s.name == name; });
    emit changed();
    return write();
}

QString KeptShapes::freshName() const {
    for (int n = 1;; ++n) {
        const QString name = tr("My shape %1").arg(n);
        if (std::none_of(m_all.begin(), m_all.end(), [&](const KeptShape& s) { return s.name == name; })) return name;
    }
}

} // namespace virga
