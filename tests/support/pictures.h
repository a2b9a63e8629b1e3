#pragma once
// Pictures for tests, and measuring how far two are apart.
#include <opencv2/core.hpp>

#include "core/geom/edge_fill.h"
#include "core/raster/image.h"
#include "core/raster/pyramid.h"

namespace virga::test {

/// A photograph-like picture: smooth shapes, edges and fine texture, repeatable for a seed.
Image<Rgba8> texturedPicture(Size size, unsigned seed = 1);
/// One as hard as a sharp photograph: detail in all sizes down to the pixel, falling by a half for each octave, and
/// hard edges.
Image<Rgba8> detailedPicture(Size size, unsigned seed = 1);
Image<Rgba8> solidPicture(Size size, Rgba8 colour);
Image<Rgba8> copyOf(const Image<Rgba8>& picture);
Pyramid pyramidOf(const Image<Rgba8>& picture);

/// A whole picture through the sampling kernel, tile by tile, encoded to 8 bit.
Image<Rgba8> sampled(const Pyramid& source, Edges edges, const std::vector<ScreenMap>& maps, Size output);

struct Difference {
    double psnr = 0; // dB over the colour channels, 99 where equal
    int most = 0;    // code values
};
Difference compare(ImageView<const Rgba8> a, ImageView<const Rgba8> b, int border = 0);

/// The picture's linear light as three float channels, and back to code values: for references in the same light.
cv::Mat linearMat(const Image<Rgba8>& picture);
Image<Rgba8> encoded(const cv::Mat& linear);

/// The smallest zoom about the middle that makes a W x H frame, rotated by `degrees`, cover itself:
/// max((W|cos| + H|sin|) / W, (W|sin| + H|cos|) / H), by plane geometry.
double coveringZoom(double degrees, Size frame);

} // namespace virga::test
