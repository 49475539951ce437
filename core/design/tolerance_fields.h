// The numbers of tolerances as fields of the spec that holds them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/field.h"
#include "core/design/tolerances.h"

#include <array>
#include <cstddef>
#include <optional>

namespace syntonon {

// For a Spec that says which tolerances are in force, if any, and of which band:
//   const Tolerances* tolerances_in_force(const Spec&), Tolerances* tolerances_in_force(Spec&),
//   ClassicalBand band_of(const Spec&).
template <class Spec>
class ToleranceFields {
public:
    static constexpr std::array<NumberField<Spec>, 9> all() {
        return {edge<&Tolerances::pass_edges_hz, 0>("spec.pass_edges_hz[0]", "Pass edge"),
                edge<&Tolerances::pass_edges_hz, 1>("spec.pass_edges_hz[1]", "to"),
                decibels<&Tolerances::pass_ripple_db, &Tolerances::pass_as_ratio>(
                    "spec.pass_ripple_db", "Falls by at most"),
                pass_ratio<0>("spec.pass_ratio[0]", "Gain from"),
                pass_ratio<1>("spec.pass_ratio[1]", "to"),
                edge<&Tolerances::stop_edges_hz, 0>("spec.stop_edges_hz[0]", "Stop edge"),
                edge<&Tolerances::stop_edges_hz, 1>("spec.stop_edges_hz[1]", "to"),
                decibels<&Tolerances::stop_attenuation_db, &Tolerances::stop_as_ratio>(
                    "spec.stop_attenuation_db", "Down by at least"),
                ratio("spec.stop_ratio", "Gain at most", stop_ratio, set_stop_ratio)};
    }

private:
    using Get = std::optional<double> (*)(const Spec&);
    using Set = void (*)(Spec&, double);

    static constexpr NumberField<Spec> ratio(std::string_view key, const char* caption, Get get,
                                             Set set) {
        return {key, caption, "", Dimension::plain, 0, 1e6, FieldSteps::by_ratio, get, set};
    }
    template <auto edges, std::size_t i>
    static constexpr NumberField<Spec> edge(std::string_view key, const char* caption) {
        return {key,
                caption,
                "Hz",
                Dimension::frequency,
                1e-6,
                greatest_analog_hz,
                FieldSteps::by_ratio,
                get_edge<edges, i>,
                set_edge<edges, i>};
    }
    // Neither 0 nor less, but that is for the designer to say.
    template <auto level, auto as_ratio>
    static constexpr NumberField<Spec> decibels(std::string_view key, const char* caption) {
        constexpr double greatest_db = 1000;
        return {key,
                caption,
                "dB",
                Dimension::level,
                0,
                greatest_db,
                FieldSteps::by_tenth,
                get_level<level, as_ratio>,
                set_level<level>};
    }
    template <std::size_t i>
    static constexpr NumberField<Spec> pass_ratio(std::string_view key, const char* caption) {
        return ratio(key, caption, get_pass_ratio<i>, set_pass_ratio<i>);
    }

    template <auto edges, std::size_t i>
    static std::optional<double> get_edge(const Spec& s) {
        const Tolerances* t = tolerances_in_force(s);
        return t != nullptr && (i == 0 || has_two_edges(band_of(s))) ? std::optional((t->*edges)[i])
                                                                     : std::nullopt;
    }
    template <auto edges, std::size_t i>
    static void set_edge(Spec& s, double value) {
        if (Tolerances* t = tolerances_in_force(s)) {
            (t->*edges)[i] = value;
        }
    }
    template <auto level, auto as_ratio>
    static std::optional<double> get_level(const Spec& s) {
        const Tolerances* t = tolerances_in_force(s);
        return t != nullptr && !(t->*as_ratio) ? std::optional(t->*level) : std::nullopt;
    }
    template <auto level>
    static void set_level(Spec& s, double value) {
        if (Tolerances* t = tolerances_in_force(s)) {
            t->*level = value;
        }
    }
    template <std::size_t i>
    static std::optional<double> get_pass_ratio(const Spec& s) {
        const Tolerances* t = tolerances_in_force(s);
        return t != nullptr && t->pass_as_ratio ? std::optional(t->pass_ratio[i]) : std::nullopt;
    }
    template <std::size_t i>
    static void set_pass_ratio(Spec& s, double value) {
        if (Tolerances* t = tolerances_in_force(s)) {
            t->pass_ratio[i] = value;
        }
    }
    static std::optional<double> stop_ratio(const Spec& s) {
        const Tolerances* t = tolerances_in_force(s);
        return t != nullptr && t->stop_as_ratio ? std::optional(t->stop_ratio) : std::nullopt;
    }
    static void set_stop_ratio(Spec& s, double value) {
        if (Tolerances* t = tolerances_in_force(s)) {
            t->stop_ratio = value;
        }
    }
};

// Two lists as one.
template <class Spec, std::size_t n, std::size_t m>
constexpr std::array<NumberField<Spec>, n + m>
joined_fields(const std::array<NumberField<Spec>, n>& a,
              const std::array<NumberField<Spec>, m>& b) {
    return [&]<std::size_t... i>(std::index_sequence<i...>) {
        return std::array<NumberField<Spec>, n + m>{(i < n ? a[i % n] : b[(i + m - n % m) % m])...};
    }
    (std::make_index_sequence<n + m>());
}

} // namespace syntonon
