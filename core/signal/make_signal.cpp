// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/make_signal.h"

#include "core/base/units.h"
#include "core/signal/makers.h"
#include "core/signal/notes_text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numeric>

namespace syntonon {
namespace {

Expected<void> check_frequency(std::string place, double hz, double rate_hz) {
    if (!(hz > 0 && hz < rate_hz / 2)) {
        return refuse(
            std::move(place),
            fmt::format("{} Hz is not between 0 and half the sample rate ({} Hz)", hz, rate_hz / 2),
            "give a frequency in between");
    }
    return {};
}

template <class Spec>
Expected<void> check_frequencies(const Spec& spec, double rate_hz) {
    for (const NumberField<Spec>& field : fields_of(spec)) {
        if (field.dimension == Dimension::frequency) {
            if (auto ok = check_frequency(std::string(field.key), *field.get(spec), rate_hz); !ok) {
                return ok;
            }
        }
    }
    if constexpr (requires { spec.from_hz; }) {
        if (spec.from_hz > spec.to_hz && Spec::kind != SweptToneRecipe::kind
            && Spec::kind != SteppedToneRecipe::kind) {
            return refuse("to_hz", fmt::format("{} Hz is below from_hz", spec.to_hz),
                          "turn them round");
        }
    }
    return {};
}

Expected<void> check_rows(const SawChordRecipe& recipe, double rate_hz) {
    for (std::size_t i = 0; i < recipe.frequencies_hz.size(); ++i) {
        if (auto ok = check_frequency(fmt::format("frequencies_hz[{}]", i),
                                      recipe.frequencies_hz[i], rate_hz);
            !ok) {
            return ok;
        }
    }
    if (recipe.frequencies_hz.empty()) {
        return refuse("frequencies_hz", "is missing or empty", "give one frequency or more");
    }
    return {};
}
Expected<void> check_rows(const NotesRecipe& recipe, double rate_hz) {
    if (auto ok = check_note_count(recipe.notes.size()); !ok) {
        return ok;
    }
    for (std::size_t i = 0; i < recipe.notes.size(); ++i) {
        const std::string place = fmt::format("notes[{}].", i);
        if (auto ok = check_note(recipe.notes[i]); !ok) {
            ok.error().place = place + ok.error().place;
            return ok;
        }
        if (auto ok = check_frequency(place + "key", hz_of_key(recipe.notes[i].key), rate_hz);
            !ok) {
            return ok;
        }
    }
    return {};
}
Expected<void> check_rows(const NumbersRecipe& recipe, double) {
    const auto odd =
        std::ranges::find_if(recipe.values, [](double value) { return !std::isfinite(value); });
    if (odd != recipe.values.end()) {
        return refuse(fmt::format("values[{}]", odd - recipe.values.begin()),
                      "is not a finite number", "mend it");
    }
    return {};
}
template <class Spec>
Expected<void> check_rows(const Spec&, double) {
    return {};
}

Expected<std::vector<double>> no_source() {
    return refuse("kind", "takes another signal or a file", "make it from a study");
}

Expected<std::vector<double>> made_from(const FileRecipe& recipe, const SignalExtent& extent,
                                        const SignalSources& sources) {
    auto found = sources.file ? sources.file(recipe, extent) : no_source();
    if (found) {
        found->resize(extent.samples);
    }
    return found;
}

Expected<std::vector<double>> made_from(const MixRecipe& recipe, const SignalExtent& extent,
                                        const SignalSources& sources) {
    if (!sources.signal) {
        return no_source();
    }
    auto signal = sources.signal(recipe.signal, extent);
    if (!signal) {
        return tl::unexpected(within("signal", signal.error()));
    }
    auto disturbance = sources.signal(recipe.disturbance, extent);
    if (!disturbance) {
        return tl::unexpected(within("disturbance", disturbance.error()));
    }
    const double loud = power_of(*signal), disturbing = power_of(*disturbance);
    if (loud == 0 || disturbing == 0) {
        return refuse(loud == 0 ? "signal" : "disturbance", "is silent: there is no ratio to it",
                      "choose another one");
    }
    const double factor = std::sqrt(loud / disturbing) / ratio_from_db(recipe.ratio_db);
    for (std::size_t n = 0; n < signal->size(); ++n) {
        (*signal)[n] += factor * (*disturbance)[n];
    }
    return signal;
}

template <class Spec>
Expected<std::vector<double>> made_from(const Spec& recipe, const SignalExtent& extent,
                                        const SignalSources&) {
    return made(recipe, extent);
}

} // namespace

void scale_to_peak(std::vector<double>& signal, double peak) {
    double greatest = 0;
    for (const double sample : signal) {
        greatest = std::max(greatest, std::abs(sample));
    }
    if (greatest > 0) {
        const double factor = peak / greatest;
        for (double& sample : signal) {
            sample *= factor;
        }
    }
}

double power_of(std::span<const double> signal) {
    if (signal.empty()) {
        return 0;
    }
    return std::inner_product(signal.begin(), signal.end(), signal.begin(), 0.0)
           / static_cast<double>(signal.size());
}

Expected<std::vector<double>> make_signal(const Recipe& recipe, const SignalExtent& extent,
                                          const SignalSources& sources) {
    return std::visit(
        [&](const auto& spec) -> Expected<std::vector<double>> {
            auto ok = check_fields(spec);
            if (ok) {
                ok = check_frequencies(spec, extent.sample_rate_hz);
            }
            if (ok) {
                ok = check_rows(spec, extent.sample_rate_hz);
            }
            if (!ok) {
                return tl::unexpected(ok.error());
            }
            return made_from(spec, extent, sources);
        },
        recipe);
}

} // namespace syntonon
