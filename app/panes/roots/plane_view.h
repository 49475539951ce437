// Which part of the plane is shown, and where.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QPointF>
#include <complex>

namespace syntonon {

struct PlaneView {
    QPointF centre;      // of the plane's origin, in pixels
    double radius = 100; // in pixels, of what is `unit` from the origin
    double unit = 1;     // 1 in the z-plane, rad/s in the s-plane
    bool is_analog = false;

    bool operator==(const PlaneView&) const = default;

    QPointF at(const std::complex<double>& z) const {
        return centre + QPointF(z.real(), -z.imag()) * (radius / unit);
    }
    std::complex<double> value_at(const QPointF& point) const {
        const QPointF from = point - centre;
        return std::complex<double>(from.x(), -from.y()) * (unit / radius);
    }
    double per_pixel() const { return unit / radius; }
};

} // namespace syntonon
