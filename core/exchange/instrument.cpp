// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/instrument.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/engine/filter_engine.h"
#include "core/exchange/coefficient_writers.h"
#include "core/filter/filter.h"
#include "core/filter/form.h"
#include "core/filter/in_sections.h"
#include "core/study/channel_parts.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <cstdint>
#include <fmt/format.h>
#include <optional>
#include <set>

namespace syntonon {
namespace {

using modelled::StateVariableResponse;

StateVariableResponse response_of(ParametricShape shape) {
    switch (shape) {
    case ParametricShape::low_shelf:
        return StateVariableResponse::low_shelf;
    case ParametricShape::high_shelf:
        return StateVariableResponse::high_shelf;
    case ParametricShape::low_pass:
        return StateVariableResponse::low;
    case ParametricShape::high_pass:
        return StateVariableResponse::high;
    case ParametricShape::band_pass:
        return StateVariableResponse::band;
    case ParametricShape::notch:
        return StateVariableResponse::notch;
    case ParametricShape::all_pass:
        return StateVariableResponse::all_pass;
    case ParametricShape::peak:
        break;
    }
    return StateVariableResponse::peak;
}

double resonance_of_q(double q) {
    return 1 - 1 / (2 * q);
}

// Without what would end a text or a comment.
std::string plain_name(std::string_view name) {
    std::string plain = one_line(name);
    std::ranges::replace_if(
        plain, [](char c) { return c == '"' || c == '\\'; }, '\'');
    return plain;
}

// The stages one after the other.
class InstrumentMaker {
public:
    InstrumentMaker(const DesignedChain& designed, double rate_hz)
        : designed_(designed), rate_hz_(rate_hz) {}

    Expected<void> add(const Chain& chain) {
        for (const auto& stage : chain) {
            if (stage->enabled) {
                if (auto ok = add(*stage); !ok) {
                    return ok;
                }
            }
        }
        return {};
    }
    Instrument take() { return std::move(made_); }

private:
    Expected<void> add(const Stage& stage) {
        const auto found = designed_.stages.find(stage.id);
        if (found == designed_.stages.end() || !found->second.filter) {
            return tl::unexpected(
                within("stage " + stage.id, found == designed_.stages.end()
                                                ? Problem{"", "is not designed", "wait a moment"}
                                                : found->second.filter.error()));
        }
        symbol_ = fresh_symbol(stage);
        part_ = {};
        part_.title = plain_name(title_of(stage));
        const bool is_set =
            std::visit([&](const auto& spec) { return add_set(spec); }, *stage.spec);
        if (!is_set) {
            if (auto ok = add_fixed(stage.id, *found->second.filter); !ok) {
                return ok;
            }
        }
        made_.parts.push_back(part_);
        return {};
    }

    // A name for the stage's parameters that no other has.
    std::string fresh_symbol(const Stage& stage) {
        std::string symbol = slug(title_of(stage), '_');
        if (std::isdigit(static_cast<unsigned char>(symbol.front()))) {
            symbol = "stage_" + symbol;
        }
        std::string tried = symbol;
        for (int i = 2; !symbols_.insert(tried).second; ++i) {
            tried = symbol + "_" + std::to_string(i);
        }
        return tried;
    }
    std::size_t parameter(const char* symbol, const char* unit, double least, double most,
                          double usual, bool by_ratio = false) {
        made_.parameters.push_back(
            {symbol_ + "_" + symbol,
             part_.title + ", " + (std::string_view(symbol) == "q" ? "Q" : symbol), unit, least,
             most, std::clamp(usual, least, most), by_ratio});
        return made_.parameters.size() - 1;
    }
    std::size_t frequency(double hz, double highest_share) {
        const double most = std::min(20'000.0, highest_share * rate_hz_);
        return parameter("frequency", "Hz", std::min(20.0, hz), std::max(most, hz), hz, true);
    }
    std::size_t drive(double db) { return parameter("drive", "dB", -24, 48, db); }
    std::size_t gain(double db) { return parameter("gain", "dB", -30, 30, db); }

    bool add_set(const LadderSpec& spec) {
        constexpr double highest_share = 0.28; // of the inner rate: see ladder_coefficients
        part_.what = LadderModel{build_of(spec), knobs_of(spec)};
        part_.frequency =
            frequency(spec.frequency_hz, std::min(0.49, highest_share * spec.oversampling));
        part_.resonance =
            parameter("resonance", "", 0, spec.saturating ? 2 : 0.999, spec.resonance);
        if (spec.saturating) {
            part_.drive = drive(spec.drive_db);
        }
        return true;
    }
    bool add_set(const StateVariableSpec& spec) {
        part_.what = StateVariableModel{build_of(spec), knobs_of(spec)};
        part_.frequency = frequency(spec.frequency_hz, 0.49);
        part_.resonance = parameter("resonance", "", 0, 0.9995, spec.resonance);
        if (has_gain(spec.response)) {
            part_.gain = gain(spec.gain_db);
        }
        if (spec.saturating) {
            part_.drive = drive(spec.drive_db);
        }
        return true;
    }
    bool add_set(const ParametricSpec& spec) {
        const auto q = width_as(spec, WidthKind::q, Axis(rate_hz_));
        if (spec.order != 2 || spec.mapping != ParametricMapping::bilinear || !q) {
            return false;
        }
        StateVariableModel model;
        model.build.response = response_of(spec.shape);
        model.knobs = {spec.frequency_hz, resonance_of_q(*q), spec.gain_db, 0};
        part_.what = model;
        part_.by_q = true;
        part_.frequency = frequency(spec.frequency_hz, 0.49);
        part_.resonance = parameter("q", "", std::min(0.1, *q), std::max(40.0, *q), *q, true);
        if (has_gain(spec.shape)) {
            part_.gain = gain(spec.gain_db);
        }
        return true;
    }
    bool add_set(const GainSpec& spec) {
        const double factor = factor_of(spec);
        if (factor == 0) {
            return false;
        }
        part_.what = GainPart{factor < 0 ? -1.0 : 1.0};
        part_.gain = parameter("gain", "dB", -60, 30, db_from_ratio(std::abs(factor)));
        return true;
    }
    template <class Other>
    bool add_set(const Other&) {
        return false;
    }

    // As it was designed; delays and sections one after the other, in whatever order.
    Expected<void> add_fixed(const std::string& id, const Filter& filter) {
        if (has_model(filter)) {
            return refuse("stage " + id, "holds a modelled stage within others",
                          "let it stand in the chain itself");
        }
        const auto parts = series_parts_of(filter.form());
        if (!parts) {
            return tl::unexpected(within("stage " + id, parts.error()));
        }
        if (!parts->taps.empty()) {
            return refuse("stage " + id,
                          fmt::format("is an FIR of {} taps, and an instrument has sections",
                                      parts->taps.size()),
                          "switch it off, or hand the channel over as a C++ class");
        }
        if (parts->delay_samples > 0) {
            InstrumentPart delay = part_;
            delay.what = DelayPart{parts->delay_samples};
            made_.parts.push_back(delay);
        }
        part_.what = parts->cascade.sections;
        return {};
    }

    const DesignedChain& designed_;
    double rate_hz_;
    Instrument made_;
    InstrumentPart part_;
    std::string symbol_;
    std::set<std::string> symbols_;
};

// Noise by whole numbers, so that it is the same in every language (D. E. Knuth, The Art of
// Computer Programming 2, 3rd ed., section 3.3.4, table 1, line 16).
std::vector<double> test_input(std::size_t count) {
    std::vector<double> input;
    std::uint32_t state = 1;
    for (std::size_t n = 0; n < count; ++n) {
        state = 1664525 * state + 1013904223;
        input.push_back(static_cast<double>(state >> 8) / (1 << 24) - 0.5);
    }
    return input;
}

} // namespace

std::string source_number(double value) {
    const std::string text = shortest_text(value);
    return text.find_first_of(".en") == std::string::npos ? text + ".0" : text;
}

const InstrumentPart* Instrument::played() const {
    const auto found = std::ranges::find_if(parts, [](const InstrumentPart& part) {
        return !part.by_q
               && (std::holds_alternative<LadderModel>(part.what)
                   || std::holds_alternative<StateVariableModel>(part.what));
    });
    return found != parts.end() ? &*found : nullptr;
}

bool Instrument::is_of_one_rate() const {
    return std::ranges::any_of(parts, [](const InstrumentPart& part) {
        return std::holds_alternative<std::vector<Biquad>>(part.what)
               || std::holds_alternative<DelayPart>(part.what);
    });
}

Expected<Instrument> instrument_of(const Study& study, const Channel& channel, Briefs& briefs) {
    if (channel.domain == Domain::analog) {
        return tl::unexpected(of_channel(
            channel.id, {"", "is analog and has no samples", "map it into a sampled channel"}));
    }
    const DesignedChain designed = briefs.design(study, channel);
    InstrumentMaker maker(designed, study.sample_rate_hz);
    if (auto ok = maker.add(channel.stages); !ok) {
        return tl::unexpected(of_channel(channel.id, ok.error()));
    }
    Instrument made = maker.take();
    if (made.parts.empty()) {
        return tl::unexpected(of_channel(
            channel.id, {"", "has no stages that are on", "add one, or leave the channel out"}));
    }
    const std::string name = slug(study.name, '_') + "_" + slug(channel.name, '_');
    made.class_name =
        std::isdigit(static_cast<unsigned char>(name.front())) ? "study_" + name : name;
    made.title = plain_name(channel.name);
    made.study = plain_name(study.name);
    made.channel_id = channel.id;
    made.sample_rate_hz = study.sample_rate_hz;
    made.to_the_last_bit = std::ranges::all_of(made.parts, [](const InstrumentPart& part) {
        return !part.by_q
               && (std::holds_alternative<LadderModel>(part.what)
                   || std::holds_alternative<StateVariableModel>(part.what));
    });
    constexpr std::size_t samples = 600;
    made.input = made.output = test_input(samples);
    if (auto engine = engine_of(designed.filter)) {
        (*engine)->process(made.output);
    }
    return made;
}

} // namespace syntonon
