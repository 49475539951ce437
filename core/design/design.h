// What a designer hands over, and what a kind of stage has to bring along.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/design/brief.h"
#include "core/design/watch.h"
#include "core/design/working.h"
#include "core/filter/filter.h"

#include <concepts>
#include <functional>
#include <string>
#include <string_view>

namespace syntonon {

struct Design {
    Filter filter;
    // The numbers that led to it; put into words only when somebody looks. Not empty.
    std::function<Working()> working;
    // What is worth knowing though it is no problem, in a few words; mostly nothing.
    std::string note = {};
};

inline Expected<Filter> filter_of(const Expected<Design>& design) {
    return design.map([](const Design& made) { return made.filter; });
}

// Refuses an analog channel, saying why: "an FIR is a row of samples".
Expected<void> check_sampled(const Brief& brief, const char* why);

// The refusal of a design whose watch said stop. It is never kept.
tl::unexpected<Problem> stopped();

// Whose filter is made from its spec and a brief by design(), which is pure: the same spec and
// brief give the same filter, bit for bit.
template <class Spec>
concept Designed = requires(const Spec& spec, const Brief& brief, const Watch& watch) {
    { design(spec, brief, watch) } -> std::same_as<Expected<Design>>;
};

// What every kind says of itself.
template <class Spec>
concept Described = std::equality_comparable<Spec> && std::default_initializable<Spec> && requires(
    const Spec& spec) {
    { Spec::kind } -> std::convertible_to<std::string_view>; // in the study file
    { title_of(spec) } -> std::same_as<std::string>;         // "Peak"
    { summary_of(spec) } -> std::same_as<std::string>;       // the main numbers: "870 Hz −6.0 dB"
    { spoken_name_of(spec) } -> std::same_as<std::string>;   // in the history: "Peak 870 Hz"
    fields_of(spec);                                         // see field.h
};

// A kind whose filter may stand for those of the stages above has replaces_above(spec). A kind that
// needs something says so: `static constexpr Needs needs`; one that takes long for some
// specs has is_quick(spec).
template <class Spec>
Needs needs_of(const Spec&) {
    if constexpr (requires { Spec::needs; }) {
        return Spec::needs;
    }
    return {};
}
template <class Spec>
bool is_quick_to_design(const Spec& spec) {
    if constexpr (requires { is_quick(spec); }) {
        return is_quick(spec);
    }
    return true;
}

} // namespace syntonon
