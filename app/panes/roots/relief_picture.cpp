// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/roots/relief_picture.h"

#include "app/widgets/theme.h"
#include "core/base/units.h"
#include "core/filter/plane_relief.h"

#include <QColor>
#include <algorithm>
#include <array>
#include <cmath>

namespace syntonon {
namespace {

using Values = std::vector<float>;

constexpr double half_tint_db = 16; // where the tint is three quarters of what it can be

QRgb mixed(const QColor& a, const QColor& b, double part) {
    const auto mix = [&](int from, int to) {
        return static_cast<int>(std::lround(from + (to - from) * part));
    };
    return qRgb(mix(a.red(), b.red()), mix(a.green(), b.green()), mix(a.blue(), b.blue()));
}

// From the deepest to the highest, so that a pixel costs a look.
std::array<QRgb, 256> tints() {
    const Theme& t = theme();
    std::array<QRgb, 256> table{};
    for (std::size_t i = 0; i < table.size(); ++i) {
        const double height = static_cast<double>(i) / 255 * 2 - 1;
        table[i] = height < 0 ? mixed(t.panel, t.ink, -0.34 * height)
                              : mixed(t.panel, t.copper, 0.34 * height);
    }
    return table;
}

// Lambert's cosine with light from the upper left, as a change of brightness.
int light_at(const Values& db, std::size_t i, std::size_t columns, std::size_t at, int coarse) {
    if (i == 0 || at < columns) {
        return 0;
    }
    const double per_point = 1.2 * coarse; // dB: a slope of one
    const double across = (db[at] - db[at - 1]) / per_point,
                 up = (db[at - columns] - db[at]) / per_point;
    const double cosine = (1 + 0.6 * across - 0.6 * up) / std::sqrt(1 + across * across + up * up);
    return static_cast<int>(std::clamp(60 * (cosine - 1), -46.0, 26.0));
}

QRgb lit(QRgb colour, int light) {
    const auto add = [&](int v) { return std::clamp(v + light, 0, 255); };
    return qRgb(add(qRed(colour)), add(qGreen(colour)), add(qBlue(colour)));
}

void shade(QImage& image, const Values& db, int coarse) {
    const auto table = tints();
    const auto columns = static_cast<std::size_t>(image.width());
    for (int k = 0; k < image.height(); ++k) {
        auto* line = reinterpret_cast<QRgb*>(image.scanLine(k));
        for (std::size_t i = 0; i < columns; ++i) {
            const std::size_t at = static_cast<std::size_t>(k) * columns + i;
            const double height = std::tanh(db[at] / half_tint_db);
            line[i] = lit(table[static_cast<std::size_t>((height + 1) * 127.5)],
                          light_at(db, i, columns, at, coarse));
        }
    }
}

// Where a multiple of `step` lies between neighbours.
void draw_lines(QImage& image, const Values& values, double step, bool wraps, QRgb usual,
                QRgb heavy) {
    const auto columns = static_cast<std::size_t>(image.width());
    const auto band = [&](std::size_t at) {
        return static_cast<int>(std::floor(values[at] / step));
    };
    for (int k = 1; k < image.height(); ++k) {
        auto* line = reinterpret_cast<QRgb*>(image.scanLine(k));
        for (std::size_t i = 1; i < columns; ++i) {
            const std::size_t at = static_cast<std::size_t>(k) * columns + i;
            const int here = band(at), left = band(at - 1), above = band(at - columns);
            if (here == left && here == above) {
                continue;
            }
            const bool jumps = std::abs(here - left) > 1 || std::abs(here - above) > 1;
            if (wraps && jumps && (std::abs(here - left) < 7 && std::abs(here - above) < 7)) {
                continue; // too close to a root: lines would flow together
            }
            if (!wraps && jumps) {
                continue;
            }
            const bool is_zero = std::max({here, left, above}) == 0;
            line[i] = is_zero ? heavy : usual;
        }
    }
}

} // namespace

QImage relief_picture(const Roots& roots, const PlaneView& view, const QSize& size,
                      const ReliefLook& look, int coarse) {
    const int columns = std::max(1, size.width() / coarse),
              rows = std::max(1, size.height() / coarse);
    QImage image(columns, rows, QImage::Format_RGB32);
    const Theme& t = theme();
    image.fill(t.panel);
    const auto corner = view.value_at(QPointF(0, 0));
    const double step = view.per_pixel() * coarse;
    // On a multiple of the step, so that rows above and below the axis mirror one another.
    const double top = std::round(corner.imag() / step) * step;
    const PlaneGrid grid{corner.real(), top, step, static_cast<std::size_t>(columns),
                         static_cast<std::size_t>(rows)};
    if (look.shade || look.contours) {
        const Values db = level_db_over(roots, grid);
        if (look.shade) {
            shade(image, db, coarse);
        }
        if (look.contours) {
            draw_lines(image, db, contour_step_db, false, mixed(t.panel, t.text, 0.42),
                       mixed(t.panel, t.text, 0.85));
        }
    }
    if (look.phase_lines) {
        draw_lines(image, phase_rad_over(roots, grid), rad_from_deg(phase_step_deg), true,
                   mixed(t.panel, t.plum, 0.65), mixed(t.panel, t.plum, 1));
    }
    return image;
}

} // namespace syntonon
