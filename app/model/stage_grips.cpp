// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/stage_grips.h"

#include "core/study/kinds.h"

#include <type_traits>

namespace syntonon {
namespace {

// Stands in for any spec, so that only functions for this very kind are found.
template <class Spec>
struct Exactly {
    Spec& spec;
    template <class Wanted>
    requires std::is_same_v<std::remove_const_t<Wanted>, std::remove_const_t<Spec>>
    operator Wanted&() const { return spec; }
};

template <class Spec>
concept HasGrips = requires(Exactly<Spec> spec) {
    move_grip(spec, std::string_view(), 1.0, std::nullopt, 1.0);
};
template <class Spec>
concept HasParts = requires(Exactly<Spec> spec) {
    move_grip(spec, std::string_view(), 1.0, std::nullopt, 1.0, std::size_t());
};

} // namespace

std::vector<Grip> grips_of(const StageSpec& spec, const Axis& axis, std::size_t in_hand) {
    return std::visit(
        [&]<class Spec>(const Spec& s) -> std::vector<Grip> {
            if constexpr (HasGrips<Spec>) {
                return grips_of(s, axis);
            } else if constexpr (HasParts<Spec>) {
                return grips_of(s, axis, in_hand);
            }
            return {};
        },
        *spec);
}

void move_grip(StageSpec& spec, std::string_view key, double hz, std::optional<double> level_db,
               const Axis& axis, std::size_t in_hand) {
    std::visit(
        [&]<class Spec>(Spec& s) {
            if constexpr (HasGrips<Spec>) {
                move_grip(s, key, hz, level_db, axis);
            } else if constexpr (HasParts<Spec>) {
                move_grip(s, key, hz, level_db, axis, in_hand);
            }
        },
        spec.edit());
}

void widen(StageSpec& spec, double octave_factor, const Axis& axis, std::size_t in_hand) {
    std::visit(
        [&]<class Spec>(Spec& s) {
            if constexpr (HasGrips<Spec>) {
                widen(s, octave_factor, axis);
            } else if constexpr (HasParts<Spec>) {
                widen(s, octave_factor, axis, in_hand);
            }
        },
        spec.edit());
}

} // namespace syntonon
