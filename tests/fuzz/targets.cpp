// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/fuzz/targets.h"

#include "core/base/problem.h"
#include "core/base/quantity.h"
#include "core/curve/import_text.h"
#include "core/curve/smoothing.h"
#include "core/design/recursion.h"
#include "core/device/oca/messages.h"
#include "core/device/oca/setting_bytes.h"
#include "core/engine/word_engine.h"
#include "core/exchange/coefficients.h"
#include "core/exchange/found_coefficients.h"
#include "core/exchange/measured_file.h"
#include "core/exchange/read_transfer.h"
#include "core/exchange/sound_taps.h"
#include "core/exchange/taps_text.h"
#include "core/exchange/target_text.h"
#include "core/exchange/transfer_text.h"
#include "core/filter/in_sections.h"
#include "core/study/analysis.h"
#include "core/study/problems.h"
#include "core/study/processor_json.h"
#include "core/study/stage_file.h"
#include "core/study/study_json.h"
#include "standin/device/device_objects.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <unistd.h>

namespace syntonon::fuzz {
namespace {

// Larger inputs only make the search slow.
constexpr std::size_t most_stages = 24;
constexpr std::size_t most_rows = 20'000;

// A refusal says what is wrong in one line.
void check_problem(const Problem& problem) {
    promise(!problem.reason.empty(), "a problem has a reason");
    promise(to_text(problem).find('\n') == std::string::npos, "a problem is one line");
}

bool is_small(const Channel& channel) {
    return channel.stages.size() <= most_stages && channel.takes.size() <= 4
           && std::ranges::all_of(channel.takes,
                                  [](const auto& t) { return t->stages.size() <= most_stages; });
}

void check_finding(const Finding& finding) {
    for (const auto& number : {finding.value, finding.limit, finding.margin, finding.worst_hz}) {
        promise(!number || std::isfinite(*number), "numbers of a finding are finite");
    }
    promise(finding.outcome != Outcome::undecided || !finding.reason.empty(),
            "what is undecided says why");
}

} // namespace

void promise(bool kept, const char* what) {
    if (!kept) {
        std::fprintf(stderr, "broken promise: %s\n", what);
        std::abort();
    }
}

void study(std::string_view bytes) {
    const auto read = study_from_json(bytes);
    if (!read) {
        return check_problem(read.error());
    }
    const auto again = study_from_json(json_from_study(read->study));
    promise(again.has_value(), "what was written can be read");
    promise(json_from_study(again->study) == json_from_study(read->study),
            "a study comes back as it was");
    for (const Problem& problem : problems_of(read->study)) {
        check_problem(problem);
    }
    if (read->study.channels.size() > 4) {
        return;
    }
    AnalysisCache cache;
    for (const auto& channel : read->study.channels) {
        if (is_small(*channel)) {
            const auto analysis = cache.analyse(read->study, *channel);
            std::ranges::for_each(analysis->verdict, check_finding);
        }
    }
}

void curve_text(std::string_view bytes) {
    const auto read = import_text(bytes);
    if (!read) {
        return check_problem(read.error());
    }
    const Curve& curve = read->curve;
    promise(check(curve).has_value(), "an imported curve is a curve");
    promise(read->rows >= curve.frequency_hz.size(), "no frequency comes from nowhere");
    const CurveReader reader(curve);
    promise(!std::isnan(reader.magnitude_db_at(curve.low_hz())), "a curve has a level at its ends");
    const double octaves = std::log2(curve.high_hz() / curve.low_hz());
    if (curve.frequency_hz.size() < most_rows && octaves < 40) {
        const Curve smooth = smoothed(curve, {SmoothingKind::octave, 1.0 / 3}, 6);
        promise(check(smooth).has_value(), "a smoothed curve is a curve");
    }
}

void target_text(std::string_view bytes) {
    const auto read = target_from_text(bytes);
    if (!read) {
        return check_problem(read.error());
    }
    const std::string text = syntonon::target_text(*read, "again");
    const auto again = target_from_text(text);
    promise(again.has_value(), "a target that was written can be read");
    promise(syntonon::target_text(*again, "again") == text, "a target comes back as it was");
}

void coefficients(std::string_view bytes) {
    const auto read = read_coefficients(bytes);
    if (!read) {
        return check_problem(read.error());
    }
    const auto text = coefficient_text(read->set, read->layout);
    if (!text) {
        return check_problem(text.error());
    }
    const auto again = read_coefficients(*text);
    promise(again.has_value(), "coefficients that were written can be read");
    promise(again->set.cascade.sections.size() == read->set.cascade.sections.size(),
            "no section is lost");
}

void quantity(std::string_view bytes) {
    for (const Dimension dimension : {Dimension::frequency, Dimension::level, Dimension::time,
                                      Dimension::octaves, Dimension::angle, Dimension::plain}) {
        const auto read = parse_quantity(bytes, dimension, {48000, 3});
        if (read) {
            promise(std::isfinite(*read), "a quantity is finite");
        } else {
            check_problem(read.error());
        }
    }
}

void transfer(std::string_view bytes) {
    const auto read = read_transfer(bytes);
    if (!read) {
        promise(read.error().at <= bytes.size() && !read.error().reason.empty(),
                "a place in the text and a reason");
        return;
    }
    promise(std::isfinite(read->roots.gain), "the gain is finite");
    if (read->roots.domain == Domain::analog) {
        return;
    }
    const auto text = transfer_text(Filter(), TransferForm::equation, TransferDialect::plain,
                                    &read->coefficients);
    promise(text.has_value(), "coefficients can be written");
    const auto again = read_transfer(*text);
    const bool all_zero =
        std::ranges::all_of(read->coefficients.numerator, [](double b) { return b == 0; });
    // Factors may come to more than an equation's delays may; the refusal names them as its way
    // out.
    const std::size_t order =
        std::max(read->coefficients.numerator.size(), read->coefficients.denominator.size()) - 1;
    promise(again.has_value() || all_zero || order > most_recursion_order,
            "an equation that was written can be read");
}

void taps(std::string_view bytes) {
    for (const std::optional<TextWord>& words :
         {std::optional<TextWord>(), std::optional(TextWord{24, 20})}) {
        const auto read = taps_from_text(bytes, words);
        if (!read) {
            check_problem(read.error());
            continue;
        }
        promise(!read->empty(), "taps that were read are some");
        promise(std::ranges::all_of(*read, [](double tap) { return std::isfinite(tap); }),
                "taps are finite");
        for (const TapsLayout layout : {TapsLayout::lines, TapsLayout::c_array}) {
            const auto text = taps_text(*read, {layout, {"{ a head }"}, {}});
            promise(text.has_value() && taps_from_text(*text) == *read,
                    "taps come back as they were");
        }
    }
}

void found(std::string_view bytes) {
    const CoefficientReading by_profile = reading_for(*shipped_processor("reed-28"));
    for (const CoefficientReading& reading :
         {CoefficientReading(), by_profile,
          CoefficientReading{.as = CoefficientsAs::sections, .words = HeldWord{Word::float64()}},
          CoefficientReading{.as = CoefficientsAs::taps}}) {
        const auto read = found_coefficients(bytes, reading);
        if (!read) {
            check_problem(read.error());
            continue;
        }
        promise(!(read->sign.is_suspect() && read->sign.is_stable()), "what is stable is trusted");
        visit_stages(chain_of(*read, "found"), [](const Stage& stage, const Slot&, int) {
            if (chains_in(stage).empty()) {
                const auto made = design(stage.spec, Brief(), Watch());
                promise(made || !made.error().reason.empty(), "stages are designed or refused");
            }
        });
    }
}

void sound(std::string_view bytes) {
    for (const int channel : {0, 1}) {
        const auto read = taps_from_sound_bytes(std::string(bytes), channel);
        if (!read) {
            check_problem(read.error());
            continue;
        }
        promise(!read->taps.empty() && channel < read->channels, "a channel that is there");
        promise(std::ranges::all_of(read->taps, [](double tap) { return std::isfinite(tap); }),
                "taps are finite");
    }
}

void stage(std::string_view bytes) {
    const auto read = stage_from_json(bytes);
    if (!read) {
        return check_problem(read.error());
    }
    const std::string text = json_from_stage(read->stage, read->sample_rate_hz);
    const auto again = stage_from_json(text);
    promise(again.has_value() && json_from_stage(again->stage, again->sample_rate_hz) == text,
            "a stage comes back as it was");
}

// A profile that is read is one: its words can be taken, and it comes back as it was.
void processor(std::string_view bytes) {
    const auto read = processor_from_json(bytes);
    if (!read) {
        return check_problem(read.error());
    }
    promise(check(read->processor).has_value(), "a profile that is read holds together");
    const std::string text = json_from_processor(read->processor);
    const auto again = processor_from_json(text);
    promise(again.has_value() && json_from_processor(again->processor) == text,
            "a profile comes back as it was");
    SeriesParts parts;
    parts.cascade.sections = {{0.5, 0.25, 0.1, -0.5, 0.3}};
    parts.taps = {0.25, -0.125};
    for (const StructureCycles& each : read->processor.structures) {
        const auto chain = nearest_words(parts, read->processor.format_for(each.structure));
        if (chain) {
            std::vector<double> signal(64, 0.5);
            WordEngine(*chain).process(signal);
            promise(std::ranges::all_of(signal, [](double x) { return std::isfinite(x); }),
                    "words give numbers");
        } else {
            check_problem(chain.error());
        }
    }
}

// A sound file taken for an impulse response, and for a sweep.
void recording(std::string_view bytes) {
    const std::filesystem::path path =
        std::filesystem::temp_directory_path() / fmt::format("syntonon-fuzz-{}.wav", ::getpid());
    std::ofstream(path, std::ios::binary) << bytes;
    MeasuredFileOptions options;
    constexpr double shortest_s = 0.1;
    options.sweep.from_hz = 100;
    options.sweep.to_hz = 1000; // so that low rates do, and little is recorded
    options.sweep.length_s = shortest_s;
    options.sweep.lead_in_s = options.sweep.lead_out_s = 0;
    for (const auto& sounds :
         {std::optional<SoundHolds>(), std::optional(SoundHolds::impulse_responses),
          std::optional(SoundHolds::sweep_recordings)}) {
        options.sounds = sounds;
        options.rate_by_sweep = sounds == SoundHolds::sweep_recordings;
        const MeasuredFile file = read_measured_file(path, options);
        if (file.problem) {
            check_problem(*file.problem);
            promise(file.entries.empty(), "a refused file gives nothing");
        }
        for (const MeasuredEntry& entry : file.entries) {
            promise(check(entry.curve).has_value(), "a measured curve is a curve");
            promise(!entry.signal_to_noise_db || std::isfinite(*entry.signal_to_noise_db),
                    "the signal to noise is a number");
            for (const Doubt& doubt : entry.doubts) {
                promise(!doubt.text.empty() && !doubt.way_out.empty(), "a doubt has a way out");
            }
        }
    }
    std::filesystem::remove(path);
}

namespace {

// All that comes of the bytes when they arrive in pieces of that size.
std::vector<oca::Message> messages_in(oca::ByteView bytes, std::size_t piece) {
    oca::MessageReader reader;
    std::vector<oca::Message> messages;
    for (std::size_t at = 0; at < bytes.size(); at += piece) {
        const auto ok = reader.feed(bytes.subspan(at, std::min(piece, bytes.size() - at)));
        while (reader.has_message()) {
            messages.push_back(reader.take());
        }
        if (!ok) {
            promise(!ok.error().way_out.empty(), "a refusal has a way out");
            break;
        }
    }
    return messages;
}

oca::DeviceShape smallest_device() {
    oca::DeviceShape shape;
    shape.processor = shipped_processors().front();
    shape.outputs = shape.parametric = shape.classical = shape.polynomial = shape.curves = 1;
    shape.most_taps = 64;
    return shape;
}

// A device that was sent anything still answers for all of its objects as the standard has it.
void check_device(const oca::DeviceObjects& device) {
    for (const auto& [number, object] : device.all()) {
        if (object.state) {
            const auto kind = oca::kind_of(object.state->setting);
            promise(oca::state_from(kind, oca::answers_of(*object.state)).has_value(),
                    "an object can be read");
        }
    }
}

} // namespace

void device(std::string_view bytes) {
    const auto* data = reinterpret_cast<const std::uint8_t*>(bytes.data());
    const oca::ByteView view(data, bytes.size());
    const auto messages = messages_in(view, std::max<std::size_t>(1, view.size()));
    promise(messages == messages_in(view, 7), "pieces make no difference");
    oca::DeviceObjects simulated(smallest_device());
    for (const oca::Message& message : messages) {
        const auto again = messages_in(oca::bytes_of(message), std::size_t(1) << 20);
        promise(again.size() == 1 && again[0] == message, "what is written is read");
        if (const auto* command = std::get_if<oca::Command>(&message)) {
            promise(simulated.answer(*command).response.handle == command->handle,
                    "an answer names its command");
        } else if (const auto* response = std::get_if<oca::Response>(&message)) {
            for (const oca::KnownClass& known : oca::known_classes) {
                const std::vector<oca::Parameters> answers(oca::reading_methods(known.kind).size(),
                                                           response->parameters);
                (void)oca::state_from(known.kind, answers);
            }
        }
    }
    check_device(simulated);
}

} // namespace syntonon::fuzz
