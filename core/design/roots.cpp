// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/roots.h"

#include "core/design/mapped_roots.h"
#include "core/filter/form.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <numbers>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr std::array roots_fields = std::to_array<NumberField<RootsSpec>>({
    {"gain", "Gain", "×", Dimension::plain, -1e300, 1e300, FieldSteps::by_ratio,
     [](const RootsSpec& s) { return std::optional(s.gain); },
     [](RootsSpec& s, double v) { s.gain = v; }},
});

// Where the lists' upper ones and those on the axis stand, and their conjugates.
std::vector<std::pair<std::size_t, std::size_t>> places_of(const std::vector<Complex>& list) {
    std::vector<std::pair<std::size_t, std::size_t>> places;
    for (std::size_t i = 0; i < list.size(); ++i) {
        if (list[i].imag() < 0) {
            continue;
        }
        const auto mate = std::ranges::find(list, std::conj(list[i]));
        places.emplace_back(i,
                            mate != list.end() ? static_cast<std::size_t>(mate - list.begin()) : i);
    }
    return places;
}

// Without looking for the conjugates: specs are hashed by these.
std::size_t count_of(const std::vector<Complex>& list) {
    return static_cast<std::size_t>(
        std::ranges::count_if(list, [](const Complex& root) { return root.imag() >= 0; }));
}
Complex root_at(const std::vector<Complex>& list, std::size_t index) {
    for (const Complex& root : list) {
        if (root.imag() >= 0 && index-- == 0) {
            return root;
        }
    }
    return 0;
}

void put_at(std::vector<Complex>& list, std::size_t index, const Complex& to) {
    const auto [upper, lower] = places_of(list)[index];
    list[lower] = std::conj(to);
    list[upper] = to;
}

template <auto member>
constexpr NumberRow<RootsSpec> radius_row(std::string_view key, const char* caption) {
    return {key,
            caption,
            "",
            [](const RootsSpec& s) { return count_of(s.*member); },
            [](const RootsSpec& s, std::size_t i) { return std::abs(root_at(s.*member, i)); },
            [](RootsSpec& s, std::size_t i, double v) {
                const Complex root = root_at(s.*member, i);
                const double size = std::abs(root);
                put_at(s.*member, i,
                       size > 0 ? root * (std::max(v, 1e-9) / size)
                                : Complex(std::max(v, 1e-9), 0));
            },
            0,
            1e300,
            1};
}

// A root on the axis stays there.
template <auto member>
constexpr NumberRow<RootsSpec> angle_row(std::string_view key, const char* caption) {
    return {key,
            caption,
            "°",
            [](const RootsSpec& s) { return count_of(s.*member); },
            [](const RootsSpec& s, std::size_t i) {
                return std::arg(root_at(s.*member, i)) * 180 / std::numbers::pi;
            },
            [](RootsSpec& s, std::size_t i, double v) {
                const Complex root = root_at(s.*member, i);
                if (root.imag() != 0) {
                    const double kept = std::clamp(v, 1e-6, 180 - 1e-6);
                    put_at(s.*member, i, std::polar(std::abs(root), kept * std::numbers::pi / 180));
                }
            },
            0,
            180,
            1};
}

constexpr std::array root_rows = {radius_row<&RootsSpec::poles>("pole_radius", "Radius of pole"),
                                  angle_row<&RootsSpec::poles>("pole_angle_deg", "Angle of pole"),
                                  radius_row<&RootsSpec::zeros>("zero_radius", "Radius of zero"),
                                  angle_row<&RootsSpec::zeros>("zero_angle_deg", "Angle of zero")};

Expected<void> check_roots(const char* name, const std::vector<Complex>& roots) {
    if (roots.size() > most_roots) {
        return refuse(name, fmt::format("are {}, too many", roots.size()),
                      fmt::format("give at most {}", most_roots));
    }
    for (std::size_t i = 0; i < roots.size(); ++i) {
        const std::string place = fmt::format("{}[{}]", name, i);
        if (!std::isfinite(roots[i].real()) || !std::isfinite(roots[i].imag())) {
            return refuse(place, "is not finite", "give two numbers");
        }
        if (std::ranges::count(roots, roots[i]) != std::ranges::count(roots, std::conj(roots[i]))) {
            return refuse(place, "has no conjugate beside it, so the filter would not be real",
                          "write both roots of a pair out");
        }
    }
    return {};
}

Expected<void> check(const RootsSpec& spec, const Axis& axis) {
    for (auto ok : {check_roots("zeros", spec.zeros), check_roots("poles", spec.poles)}) {
        if (!ok) {
            return ok;
        }
    }
    if (!std::isfinite(spec.gain)) {
        return refuse("gain", "is not a finite number", "give a number");
    }
    if (axis.is_analog() && spec.zeros.size() > spec.poles.size()) {
        return refuse(
            "zeros",
            fmt::format("are {}, more than the {} poles: its level would rise without end",
                        spec.zeros.size(), spec.poles.size()),
            "add poles, or take zeros away");
    }
    return {};
}

// A pair of zeros with a pair of poles each, then what is left of either.
std::vector<SectionDraft> drafts_of(const Roots& roots) {
    std::vector<SectionDraft> drafts;
    for (const RootPair& pair : analog_pairs(roots.poles)) {
        drafts.push_back({{}, pair, std::abs(pair.roots[0])});
    }
    auto zeros = analog_pairs(roots.zeros);
    drafts = paired(std::move(drafts), zeros, SectionPairing::nearest);
    for (const SectionDraft& draft : drafts) {
        const auto used = std::ranges::find(zeros, draft.zeros.roots, &RootPair::roots);
        if (draft.zeros.count() > 0 && used != zeros.end()) {
            zeros.erase(used);
        }
    }
    for (const RootPair& pair : zeros) { // a single zero, or more than there are poles
        const auto room = std::ranges::find_if(drafts, [&](const SectionDraft& d) {
            return d.zeros.count() == 0 && d.poles.count() >= pair.count();
        });
        if (room != drafts.end()) {
            room->zeros = pair;
        } else {
            drafts.push_back({pair, {}, 0.5});
        }
    }
    return drafts;
}

std::array<double, 3> rounded(const RootPair& pair, double factor) {
    std::array<double, 3> c{};
    std::ranges::transform(pair.c, c.begin(), [&](long double v) {
        return static_cast<double>(v * static_cast<long double>(factor));
    });
    return c;
}

// Moves b back by as many samples as its last ones are free, at most so many; how many it was.
int delayed(std::array<double, 3>& b, int degree, int samples) {
    const int by = std::min(2 - degree, samples);
    std::rotate(b.begin(), b.end() - by, b.end());
    return by;
}

Cascade sampled_sections(const Roots& roots) {
    Cascade cascade;
    double gain = roots.gain;
    int delay = static_cast<int>(roots.delay_samples);
    for (const SectionDraft& draft : drafts_of(roots)) {
        auto b = rounded(draft.zeros, std::exchange(gain, 1));
        const auto a = rounded(draft.poles, 1);
        delay -= delayed(b, draft.zeros.count(), delay);
        cascade.sections.push_back({b[0], b[1], b[2], a[1], a[2]});
    }
    while (delay > 0 || cascade.sections.empty()) {
        std::array<double, 3> b{std::exchange(gain, 1), 0, 0};
        delay -= delayed(b, 0, delay);
        cascade.sections.push_back({b[0], b[1], b[2], 0, 0});
    }
    return cascade;
}

AnalogCascade analog_sections(const Roots& roots) {
    AnalogCascade cascade;
    double gain = roots.gain;
    for (const SectionDraft& draft : drafts_of(roots)) {
        const auto b = rounded(draft.zeros, std::exchange(gain, 1)), a = rounded(draft.poles, 1);
        cascade.sections.push_back(analog_section(b, draft.zeros.count(), a, draft.poles.count()));
    }
    if (cascade.sections.empty()) {
        cascade.sections.push_back({0, 0, roots.gain, 0, 0, 1});
    }
    return cascade;
}

Roots roots_of(const RootsSpec& spec, Domain domain) {
    Roots roots{spec.zeros, spec.poles, spec.gain, 0};
    roots.domain = domain;
    return roots;
}

} // namespace

std::span<const NumberField<RootsSpec>> fields_of(const RootsSpec&) {
    return roots_fields;
}

std::span<const NumberRow<RootsSpec>> rows_of(const RootsSpec&) {
    return root_rows;
}

Filter filter_of_roots(const Roots& roots) {
    Roots known = roots;
    if (roots.domain == Domain::analog) {
        return {analog_sections(roots), std::move(known)};
    }
    std::erase(known.zeros, Complex(0, 0));
    std::erase(known.poles, Complex(0, 0));
    return {sampled_sections(known), known};
}

Expected<Design> design(const RootsSpec& spec, const Brief& brief, const Watch&) {
    const Axis axis = brief.axis();
    if (auto ok = check(spec, axis); !ok) {
        return tl::unexpected(ok.error());
    }
    const Filter filter = filter_of_roots(roots_of(spec, axis.domain));
    return Design{filter, [filter, axis, gain = spec.gain] {
                      Working shown;
                      shown.method = axis.is_analog() ? "H = gain Π(s − zero) / Π(s − pole)"
                                                      : "H = gain Π(1 − zero/z) / Π(1 − pole/z)";
                      shown.steps = {{"Roots", {{"gain", "", gain, ""}}}};
                      add_roots(shown, filter, axis.sample_rate_hz);
                      return shown;
                  }};
}

std::optional<RootsSpec> own_roots(const RootsSpec& spec, const Filter& filter) {
    RootsSpec own = spec;
    if (!filter.is_analog()) {
        std::erase(own.zeros, Complex(0, 0));
        std::erase(own.poles, Complex(0, 0));
    }
    return own;
}

RootsSpec with_own_roots(const RootsSpec&, const Filter&, const RootsSpec& roots) {
    return roots;
}

std::string title_of(const RootsSpec&) {
    return "Roots";
}

std::string summary_of(const RootsSpec& spec) {
    return fmt::format("{} poles, {} zeros", spec.poles.size(), spec.zeros.size());
}

std::string spoken_name_of(const RootsSpec& spec) {
    return "Roots of order " + std::to_string(std::max(spec.poles.size(), spec.zeros.size()));
}

} // namespace syntonon
