// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/in_sections.h"

#include "core/filter/filter.h"
#include "core/math/fft.h"

#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

tl::unexpected<Problem> no_sections(std::string what) {
    return refuse("", std::move(what) + " has no second-order sections",
                  "switch it off, or hand it over in another form");
}

struct SectionsOf {
    Expected<Cascade> operator()(const Cascade& cascade) const { return cascade; }
    Expected<Cascade> operator()(const Gain& gain) const {
        return Cascade{{Biquad{gain.factor, 0, 0, 0, 0}}};
    }
    Expected<Cascade> operator()(const Series& chain) const {
        Cascade all;
        for (const Filter& part : chain.parts) {
            auto one = part.sections();
            if (!one) {
                return one;
            }
            all.sections.insert(all.sections.end(), one->sections.begin(), one->sections.end());
        }
        return all;
    }
    Expected<Cascade> operator()(const Taps& taps) const {
        return no_sections(fmt::format("an FIR of {} taps", taps.values().size()));
    }
    Expected<Cascade> operator()(const Delay& delay) const {
        return no_sections(fmt::format("a delay of {} samples", delay.samples));
    }
    Expected<Cascade> operator()(const ParallelSum& sum) const {
        return no_sections(fmt::format("a sum of {} branches", sum.branches.size()));
    }
    Expected<Cascade> operator()(const Loop&) const { return no_sections("a loop"); }
    Expected<Cascade> operator()(const AnalogCascade&) const {
        return no_sections("an analog filter");
    }
    Expected<Cascade> operator()(const Oversampled&) const {
        return refuse("", "what is computed at a multiple of the rate has no second-order sections",
                      "set its oversampling to 1, or hand it over in another form");
    }
    Expected<Cascade> operator()(const Computed& computed) const {
        if (computed.way->stays_within_bounds() && !computed.linear.is_stable()) {
            return refuse("",
                          "what swings by itself is held by what saturates, and sections are not",
                          "lower its resonance, or hand it over in another form");
        }
        return computed.linear.sections();
    }
    Expected<Cascade> operator()(const Repeated& repeated) const {
        auto one = repeated.filter.sections();
        if (!one) {
            return one;
        }
        Cascade all;
        for (std::size_t i = 0; i < repeated.count; ++i) {
            all.sections.insert(all.sections.end(), one->sections.begin(), one->sections.end());
        }
        return all;
    }
};

constexpr std::size_t most_taps_in_series = 1 << 20;

Expected<void> put_behind(const SeriesParts& next, SeriesParts& all) {
    all.cascade.sections.insert(all.cascade.sections.end(), next.cascade.sections.begin(),
                                next.cascade.sections.end());
    all.delay_samples += next.delay_samples;
    if (next.taps.empty()) {
        return {};
    }
    if (all.taps.empty()) {
        all.taps = next.taps;
        return {};
    }
    const std::size_t count = all.taps.size() + next.taps.size() - 1;
    if (count > most_taps_in_series) {
        return refuse("", fmt::format("its FIRs are {} taps long together", count),
                      "hand them over one by one");
    }
    all.taps = convolved(all.taps, next.taps, count);
    return {};
}

struct SeriesPartsOf {
    Expected<SeriesParts> operator()(const Taps& taps) const {
        SeriesParts parts;
        parts.taps.assign(taps.values().begin(), taps.values().end());
        if (parts.taps.empty()) {
            parts.taps.push_back(0); // silence
        }
        return parts;
    }
    Expected<SeriesParts> operator()(const Delay& delay) const {
        SeriesParts parts;
        parts.delay_samples = delay.samples;
        return parts;
    }
    Expected<SeriesParts> operator()(const Series& chain) const {
        SeriesParts all;
        for (const Filter& part : chain.parts) {
            auto one = series_parts_of(part.form());
            if (!one) {
                return one;
            }
            if (auto ok = put_behind(*one, all); !ok) {
                return tl::unexpected(ok.error());
            }
        }
        return all;
    }
    Expected<SeriesParts> operator()(const Repeated& repeated) const {
        return (*this)(Series{std::vector<Filter>(repeated.count, repeated.filter)});
    }
    Expected<SeriesParts> operator()(const Computed& computed) const {
        return series_parts_of(computed.linear.form());
    }
    template <class Form>
    Expected<SeriesParts> operator()(const Form& form) const {
        return SectionsOf()(form).map([](Cascade cascade) {
            SeriesParts parts;
            parts.cascade = std::move(cascade);
            return parts;
        });
    }
};

struct AnalogSectionsOf {
    Expected<AnalogCascade> operator()(const AnalogCascade& cascade) const { return cascade; }
    Expected<AnalogCascade> operator()(const Gain& gain) const {
        return AnalogCascade{{AnalogSection{0, 0, gain.factor, 0, 0, 1}}};
    }
    Expected<AnalogCascade> operator()(const Cascade& wire) const {
        if (wire.sections.empty()) {
            return AnalogCascade{};
        }
        return refuse("", "sampled sections have none in the s-plane", "design them analog");
    }
    Expected<AnalogCascade> operator()(const Series& chain) const { return row(chain.parts); }
    Expected<AnalogCascade> operator()(const Repeated& repeated) const {
        return row(std::vector<Filter>(repeated.count, repeated.filter));
    }
    template <class Network>
    Expected<AnalogCascade> operator()(const Network&) const {
        return refuse("", "a sum or a loop has no second-order sections one after the other",
                      "take its polynomials, or its zeros and poles");
    }
    static Expected<AnalogCascade> row(const std::vector<Filter>& parts) {
        AnalogCascade all;
        for (const Filter& part : parts) {
            auto one = part.analog_sections();
            if (!one) {
                return one;
            }
            all.sections.insert(all.sections.end(), one->sections.begin(), one->sections.end());
        }
        return all;
    }
};

} // namespace

Expected<Cascade> sections_of(const AnyForm& form) {
    return std::visit(SectionsOf(), static_cast<const AnyForm::variant&>(form));
}

Expected<SeriesParts> series_parts_of(const AnyForm& form) {
    return std::visit(SeriesPartsOf(), static_cast<const AnyForm::variant&>(form));
}

Expected<AnalogCascade> analog_sections_of(const AnyForm& form) {
    return std::visit(AnalogSectionsOf(), static_cast<const AnyForm::variant&>(form));
}

Filter filter_of(const SeriesParts& parts) {
    std::vector<Filter> all{Filter(parts.cascade)};
    if (!parts.taps.empty()) {
        all.emplace_back(Taps(parts.taps));
    }
    if (parts.delay_samples > 0) {
        all.emplace_back(Delay{parts.delay_samples});
    }
    return series(all);
}

} // namespace syntonon
