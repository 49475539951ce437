// Aims for recursive fits.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/recursive/joint_roots.h"
#include "core/math/seeded.h"
#include "tests/support/rate.h"

#include <array>
#include <cmath>
#include <vector>

namespace syntonon {

// 20 Hz to 20 kHz in equal ratios.
inline std::vector<double> audio_places(std::size_t count = 300) {
    std::vector<double> hz;
    for (std::size_t i = 0; i < count; ++i) {
        hz.push_back(20
                     * std::pow(1000.0, static_cast<double>(i) / static_cast<double>(count - 1)));
    }
    return hz;
}

// Bells by chance, wider than a third of an octave, on a slope.
inline ResponseAim bumpy_aim(double seed, int bells = 12) {
    Seeded random(seed);
    struct Bell {
        double place, height, width;
    };
    std::vector<Bell> all;
    for (int i = 0; i < bells; ++i) {
        all.push_back({random.uniform(), random.between(-8, 8), random.between(0.02, 0.08)});
    }
    const double slope = random.between(-6, 6);
    ResponseAim aim;
    aim.hz = audio_places();
    for (const double hz : aim.hz) {
        const double place = std::log(hz / 20) / std::log(1000.0);
        double level = slope * place;
        for (const Bell& bell : all) {
            const double off = (place - bell.place) / bell.width;
            level += bell.height * std::exp(-off * off / 2);
        }
        aim.level_db.push_back(level);
    }
    aim.weight.assign(aim.hz.size(), 1);
    return aim;
}

} // namespace syntonon
