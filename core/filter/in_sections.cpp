// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/in_sections.h"

#include "core/filter/filter.h"

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

Expected<AnalogCascade> analog_sections_of(const AnyForm& form) {
    return std::visit(AnalogSectionsOf(), static_cast<const AnyForm::variant&>(form));
}

} // namespace syntonon
