// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/dome.h"

#include "core/math/seeded.h"

#include <array>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

using Shape = ParametricShape;

// A perforated dome over a carpet: little comes back, and little of it above 1 kHz.
constexpr RoomPlan dome_room{17.3, 16.1, 8.7, 0.14, 2600, 343, 0.3, -11, 0.42};

double seed_of(const DomeLoudspeaker& loudspeaker, int row) {
    return loudspeaker.plan.place.x_m * 1000 + row * 977;
}

} // namespace

std::span<const DomeLoudspeaker> dome_loudspeakers() {
    static const std::array loudspeakers = {
        DomeLoudspeaker{
            "zenith",
            "Zenith",
            {{8.4, 8.2, 8.1},
             {parametric(Shape::high_pass, 33, 0, 0.9), parametric(Shape::peak, 63, 7.6, 2.4),
              parametric(Shape::low_shelf, 130, 3.6, 0.7), parametric(Shape::peak, 183, -2.9, 2.0),
              parametric(Shape::peak, 870, 5.0, 1.5),
              parametric(Shape::high_shelf, 7400, -5.0, 0.7),
              parametric(Shape::peak, 2900, 0.6, 3.0)},
             17.6}},
        DomeLoudspeaker{
            "sunrise",
            "Sunrise",
            {{15.9, 8.9, 4.4},
             {parametric(Shape::high_pass, 41, 0, 1.1), parametric(Shape::peak, 78, 7.9, 3.0),
              parametric(Shape::peak, 140, -4.1, 2.0), parametric(Shape::peak, 320, 4.8, 1.8),
              parametric(Shape::peak, 1450, -4.6, 1.6), parametric(Shape::peak, 3600, 5.4, 2.2),
              parametric(Shape::peak, 180, 2.0, 2.6),
              parametric(Shape::high_shelf, 9000, -5.2, 0.7), parametric(Shape::peak, 262, -1.1, 3),
              parametric(Shape::peak, 452, 0.8, 4)},
             20}},
        DomeLoudspeaker{
            "sunset",
            "Sunset",
            {{1.3, 7.4, 4.2},
             {parametric(Shape::high_pass, 41, 0, 1.1), parametric(Shape::peak, 74, 7.2, 2.6),
              parametric(Shape::peak, 205, -4.2, 2.0), parametric(Shape::peak, 540, 4.2, 1.8),
              parametric(Shape::peak, 2100, -3.8, 1.8),
              parametric(Shape::high_shelf, 8000, -3.6, 0.7)},
             19.2}}};
    return loudspeakers;
}

ParametricSpec dome_microphone_section() {
    return parametric(Shape::peak, 12'500, 1.4, 0.7);
}

Place dome_seat(int row) {
    constexpr double first_m = 1.1, step_m = 1.35, ear_m = 1.2, rise_m = 0.12;
    const double out_m = first_m + row * step_m;
    return {8.6 - 0.55 * out_m, 8.05 - 0.84 * out_m, ear_m + rise_m * row};
}

std::string dome_row_name(int row) {
    return fmt::format("row {}", static_cast<char>('A' + row));
}

ImpulseResponse dome_response(const DomeLoudspeaker& loudspeaker, int row, double sample_rate_hz) {
    LoudspeakerPlan plan = loudspeaker.plan;
    Seeded random(seed_of(loudspeaker, row));
    for (ParametricSpec& section : plan.sections) {
        section.frequency_hz *= 1 + row * random.between(-0.015, 0.015);
        section.gain_db *= 1 + row * random.between(-0.05, 0.05);
    }
    plan.sections.push_back(dome_microphone_section());
    return *room_response(dome_room, plan, dome_seat(row), sample_rate_hz);
}

} // namespace syntonon
