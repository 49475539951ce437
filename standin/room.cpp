// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/room.h"

#include "core/base/units.h"
#include "core/engine/render.h"
#include "core/filter/filter.h"
#include "core/math/seeded.h"
#include "standin/between_samples.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

Expected<void> check_inside(const char* name, double m, double extent_m) {
    if (!(extent_m > 0)) {
        return refuse(name, fmt::format("the room has {} m there", extent_m), "give it an extent");
    }
    if (!(m > 0 && m < extent_m)) {
        return refuse(name, fmt::format("{} m is not within the room's {} m", m, extent_m),
                      "put it into the room");
    }
    return {};
}

Expected<void> check_place(const RoomPlan& room, const Place& place) {
    return check_inside("x_m", place.x_m, room.length_m)
        .and_then([&] { return check_inside("y_m", place.y_m, room.width_m); })
        .and_then([&] { return check_inside("z_m", place.z_m, room.height_m); });
}

Expected<void> check_room(const RoomPlan& room) {
    if (!(room.reflection >= 0 && room.reflection < 1)) {
        return refuse("reflection", fmt::format("{} is not from 0 to below 1", room.reflection),
                      "no wall gives back all");
    }
    if (!(room.length_s > 0 && room.length_s <= 5) || !(room.speed_of_sound_m_per_s > 0)
        || !(room.wall_corner_hz > 0)) {
        return refuse("length_s", fmt::format("{} s is out of range", room.length_s),
                      "give up to 5 s, a speed of sound and a corner above 0");
    }
    return {};
}

// Along one axis: where the images of a source stand seen from the microphone, and how many walls
// each has met.
struct Image {
    double offset_m;
    int bounces;
};
std::vector<Image> images_along(double source_m, double microphone_m, double extent_m,
                                double reach_m) {
    std::vector<Image> images;
    const int most = static_cast<int>(std::ceil(reach_m / (2 * extent_m))) + 1;
    for (int l = -most; l <= most; ++l) {
        for (const int mirrored : {0, 1}) {
            const double at_m = (1 - 2 * mirrored) * source_m + 2 * l * extent_m;
            images.push_back({at_m - microphone_m, std::abs(l - mirrored) + std::abs(l)});
        }
    }
    return images;
}

// By how often they were reflected.
class Arrivals {
public:
    Arrivals(std::size_t length, double sample_rate_hz)
        : length_(length), rate_hz_(sample_rate_hz) {}

    void add(int bounces, double s, double strength) {
        const auto order = static_cast<std::size_t>(bounces);
        if (order >= by_bounces_.size()) {
            by_bounces_.resize(order + 1);
        }
        auto& samples = by_bounces_[order];
        samples.resize(length_);
        const double at = s * rate_hz_;
        const auto middle = static_cast<std::ptrdiff_t>(std::floor(at));
        std::ptrdiff_t n = middle - kernel_reach + 1;
        for (const double share : kernel_about(at - std::floor(at))) {
            if (n >= 0 && n < static_cast<std::ptrdiff_t>(length_)) {
                samples[static_cast<std::size_t>(n)] += strength * share;
            }
            ++n;
        }
    }

    // What was reflected n times has gone through n times the same wall: all but the last time
    // together with what was reflected once more.
    std::vector<double> sum(const RoomPlan& room) const {
        const double pole = std::exp(-2 * pi * room.wall_corner_hz / rate_hz_);
        std::vector<double> total(length_);
        for (std::size_t order = by_bounces_.size(); order-- > 0;) {
            double last = 0;
            for (std::size_t n = 0; n < length_ && order + 1 < by_bounces_.size(); ++n) {
                last = (1 - pole) * total[n] + pole * last;
                total[n] = room.reflection * last;
            }
            for (std::size_t n = 0; n < by_bounces_[order].size(); ++n) {
                total[n] += by_bounces_[order][n];
            }
        }
        return total;
    }

private:
    std::size_t length_;
    double rate_hz_;
    std::vector<std::vector<double>> by_bounces_;
};

std::vector<double> reflected(const RoomPlan& room, const Place& from, const Place& to,
                              double sample_rate_hz) {
    const double reach_m = room.length_s * room.speed_of_sound_m_per_s;
    Arrivals arrivals(static_cast<std::size_t>(room.length_s * sample_rate_hz), sample_rate_hz);
    const auto along_y = images_along(from.y_m, to.y_m, room.width_m, reach_m);
    const auto along_z = images_along(from.z_m, to.z_m, room.height_m, reach_m);
    for (const Image& x : images_along(from.x_m, to.x_m, room.length_m, reach_m)) {
        for (const Image& y : along_y) {
            for (const Image& z : along_z) {
                const double way_m = std::hypot(x.offset_m, y.offset_m, z.offset_m);
                if (way_m < reach_m) {
                    constexpr double nearest_m = 0.1; // no point is louder than there
                    arrivals.add(x.bounces + y.bounces + z.bounces,
                                 way_m / room.speed_of_sound_m_per_s,
                                 1 / std::max(way_m, nearest_m));
                }
            }
        }
    }
    return arrivals.sum(room);
}

// Grows from the direct sound on over 15 ms, which no ear takes for an echo.
void add_scattered(const RoomPlan& room, const Place& from, const Place& to, double rate_hz,
                   std::vector<double>& samples) {
    const double way_m = std::hypot(from.x_m - to.x_m, from.y_m - to.y_m, from.z_m - to.z_m);
    const double direct_s = way_m / room.speed_of_sound_m_per_s;
    constexpr double seed_step = 7919, rise_s = 0.015;
    Seeded random(std::floor(seed_step * (from.x_m + 3 * to.x_m + 5 * to.y_m)));
    const double pole = std::exp(-2 * pi * room.wall_corner_hz / rate_hz);
    std::vector<double> tail(samples.size());
    double low = 0, energy = 0;
    for (std::size_t n = 0; n < tail.size(); ++n) {
        const double s = static_cast<double>(n) / rate_hz - direct_s;
        const double white = random.normal();
        low += (1 - pole) * (white - low);
        if (s > 0) {
            const double decay = std::pow(10, -3 * s / room.scattered_time_s);
            const double rise = 1 - std::exp(-s / rise_s);
            tail[n] = rise * (low * decay + (white - low) * decay * decay);
            energy += tail[n] * tail[n];
        }
    }
    const double gain =
        energy > 0 ? ratio_from_db(*room.scattered_db) / way_m / std::sqrt(energy) : 0;
    for (std::size_t n = 0; n < tail.size(); ++n) {
        samples[n] += gain * tail[n];
    }
}

} // namespace

Expected<ImpulseResponse> room_response(const RoomPlan& room, const LoudspeakerPlan& loudspeaker,
                                        const Place& microphone, double sample_rate_hz) {
    if (auto ok = check_room(room); !ok) {
        return tl::unexpected(within("room", ok.error()));
    }
    if (auto ok = check_place(room, loudspeaker.place); !ok) {
        return tl::unexpected(within("loudspeaker", ok.error()));
    }
    if (auto ok = check_place(room, microphone); !ok) {
        return tl::unexpected(within("microphone", ok.error()));
    }
    std::vector<double> samples = reflected(room, loudspeaker.place, microphone, sample_rate_hz);
    if (room.scattered_db) {
        add_scattered(room, loudspeaker.place, microphone, sample_rate_hz, samples);
    }
    for (const ParametricSpec& section : loudspeaker.sections) {
        auto filter = parametric_filter(section, {sample_rate_hz, Domain::sampled});
        if (!filter) {
            return tl::unexpected(within("loudspeaker", filter.error()));
        }
        auto heard = render(*filter, samples, 0);
        if (!heard) {
            return tl::unexpected(within("loudspeaker", heard.error()));
        }
        samples = std::move(heard->out);
    }
    const double gain = ratio_from_db(loudspeaker.level_db);
    std::ranges::transform(samples, samples.begin(), [&](double x) { return gain * x; });
    return ImpulseResponse{sample_rate_hz, std::move(samples), 0};
}

} // namespace syntonon
