#include "app/commands/movement_commands.h"

#include "app/commands/reel_commands.h"
#include "app/document/words.h"

namespace virga {

void setWithShots(Document& document, bool on) {
    Settings settings = document.project()->settings;
    settings.withShots = on;
    changeSettings(document, settings,
                   on ? QObject::tr("judge movement with the shots") : QObject::tr("judge the moves alone"));
}

void takeShakeOff(Document& document, int clip, const Stack& moves) {
    document.apply(QObject::tr("take the shake off"), withSteadying(*document.project(), clip, moves));
}

void dropSteadying(Document& document, int clip) {
    document.apply(QObject::tr("give the shake back"), withoutSteadying(*document.project(), clip));
}

QString putCut(Document& document, int cut, const CarryingCut& choice) {
    auto put = withCarryingCut(*document.project(), cut, choice);
    if (!put) return QString::fromStdString(describe(put.error()));
    document.tryOut(nullptr);
    document.apply(QObject::tr("cut that carries on"), std::move(*put));
    return {};
}

void setHeard(Document& document, const Heard& heard, const QString& mergeKey) {
    Settings settings = document.project()->settings;
    settings.heard = heard;
    changeSettings(document, settings, QObject::tr("movement heard"), mergeKey);
}

} // namespace virga
