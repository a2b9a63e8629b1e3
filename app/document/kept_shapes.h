#pragma once
// The user's own shapes: kept from one session to the next in a JSON file of the user's configuration, written beside
// and renamed. Interface thread only.
#include <QObject>
#include <QString>
#include <vector>

#include "core/base/error.h"
#include "core/curve/easing.h"

namespace virga {

struct KeptShape {
    QString name;
    Easing easing;
    bool operator==(const KeptShape&) const = default;
};

class KeptShapes : public QObject {
    Q_OBJECT
public:
    /// The shapes of the running program, from the configuration's file.
    static KeptShapes& instance();
    explicit KeptShapes(const QString& path);

    const std::vector<KeptShape>& all() const { return m_all; }
    /// Kept under a name; one of that name is replaced. Errors: WriteFailed; it is then kept for this session.
    Expected<void> keep(const QString& name, const Easing& easing);
    Expected<void> forget(const QString& name);
    /// A name that none has yet.
    QString freshName() const;
    /// What could not be read, or nothing. The file is then put aside and not written over.
    QString problem() const { return m_problem; }

signals:
    void changed();

private:
    void read();
    Expected<void> write() const;
    QString m_path, m_problem;
    std::vector<KeptShape> m_all;
};

} // namespace virga
