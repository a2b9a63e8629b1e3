// Writes tests/core/curve/bezier_easing_table.h: values of the npm package bezier-easing, another implementation of
// CSS's cubic-bezier(), for shapes of all kinds. Once:
//   npm install bezier-easing@3.2.0 && node PROJECT/tools/reference/bezier_easing.mjs > TABLE
import { createRequire } from "node:module";
const require = createRequire(process.cwd() + "/");
const loaded = require("bezier-easing");
const bezier = loaded.default ?? loaded.bezier ?? loaded;
const shapes = [
  [0.25, 0.1, 0.25, 1], [0.42, 0, 1, 1], [0, 0, 0.58, 1], [0.42, 0, 0.58, 1], [0.6, 0, 0.88, 0.5],
  [0.9, 0, 0.98, 0.25], [0.02, 0.75, 0.1, 1], [0.12, 0.5, 0.4, 1], [0.15, 0.55, 0.5, 1.35], [0.5, -0.35, 0.85, 0.45],
  [0.92, 0, 0.08, 1], [0.6, -0.35, 0.4, 1.35], [0, 0, 1, 1], [1, 0, 0, 1], [0.55, 0.055, 0.675, 0.19],
];
const rows = shapes.map((s) => {
  const f = bezier(...s);
  const values = Array.from({ length: 19 }, (_, i) => f((i + 1) / 20).toFixed(9));
  return `    {{Interpolation::Eased, ${s.join(", ")}},\n     {${values.join(", ")}}},`;
});
console.log(`#pragma once
// Made by tools/reference/bezier_easing.mjs from the npm package bezier-easing 3.2.0: for each shape the values at
// 0.05, 0.10 … 0.95.
#include <array>

#include "core/curve/shape.h"

namespace virga {

struct BezierEasingRow {
    Shape shape;
    std::array<double, 19> values;
};

// clang-format off
inline constexpr BezierEasingRow bezierEasingTable[] = {
${rows.join("\n")}
};
// clang-format on

} // namespace virga`);
