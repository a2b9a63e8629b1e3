#include "core/export/untouched.h"

#include "core/render/exposure.h"

namespace virga {

namespace {

bool isPlain(const LayerPlan& layer, const Quality& quality) {
    return layer.opacity >= 1 && layer.treatments.empty() && layer.crop.isEmpty() &&
           layer.inBetween == InBetween::Nearest && layer.shotBlur <= 0 && layer.pixelAspect == Rational(1) &&
           !exposedSpan(layer, quality);
}

// One to one, all the while the shutter is open.
bool rests(const LayerPlan& layer, Size output) {
    const ScreenMap still;
    for (int i = 0; i <= 8; ++i)
        if (!(mapAt(layer, layer.shutter.at(i / 8.0), output) == still)) return false;
    return true;
}

} // namespace

bool takesUntouched(const EncoderSettings& settings) {
    if (settings.depth != 8 || settings.alpha) return false;
    return settings.format == DeliveryFormat::H264 || settings.format == DeliveryFormat::H265 ||
           settings.format == DeliveryFormat::Vp9 || settings.format == DeliveryFormat::Av1;
}

CodedPicture untouchedPicture(const ExportPlan& plan, const FramePlan& frame, SourcePool& pool) {
    if (!takesUntouched(plan.encoder) || frame.layers.size() != 1 || frame.steps.size() != 1 || !frame.treats.empty())
        return {};
    const LayerPlan& layer = frame.layers.front();
    if (layer.source != plan.encoder.size || !isPlain(layer, plan.render) || !rests(layer, plan.encoder.size))
        return {};
    const Media* media = findMedia(plan.project, layer.mediaId);
    if (!media) return {};
    CodedPicture picture = pool.codedAt(media->path, layer.sourceTime, layer.deinterlace);
    return picture.size() == plan.encoder.size ? picture : CodedPicture();
}

} // namespace virga
