// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/recipe.h"

#include "core/base/number_text.h"
#include "core/signal/notes_text.h"

#include <array>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

// A member as a field reads and writes it.
template <auto Member>
struct Access;
template <class Spec, class Number, Number Spec::*Member>
struct Access<Member> {
    static std::optional<double> get(const Spec& spec) { return spec.*Member; }
    static void set(Spec& spec, double value) { spec.*Member = value; }
    using Field = NumberField<Spec>;
};

constexpr double most_hz = 1e6, most_db = 60, least_db = -200;
constexpr double most_samples = static_cast<double>(most_signal_samples);

template <auto Member>
constexpr auto frequency(std::string_view key, const char* caption) {
    return typename Access<Member>::Field{key,
                                          caption,
                                          "Hz",
                                          Dimension::frequency,
                                          1e-3,
                                          most_hz,
                                          FieldSteps::by_ratio,
                                          Access<Member>::get,
                                          Access<Member>::set};
}
template <auto Member>
constexpr auto level(std::string_view key, const char* caption) {
    return typename Access<Member>::Field{key,
                                          caption,
                                          "dB",
                                          Dimension::level,
                                          least_db,
                                          most_db,
                                          FieldSteps::by_tenth,
                                          Access<Member>::get,
                                          Access<Member>::set};
}
template <auto Member>
constexpr auto peak() {
    return level<Member>("peak_db", "Peak");
}
template <auto Member>
constexpr auto power() {
    return level<Member>("level_db", "Level");
}
template <auto Member>
constexpr auto whole(std::string_view key, const char* caption, double least, double most,
                     const char* unit = "") {
    return typename Access<Member>::Field{key,
                                          caption,
                                          unit,
                                          Dimension::plain,
                                          least,
                                          most,
                                          FieldSteps::whole,
                                          Access<Member>::get,
                                          Access<Member>::set};
}
template <auto Member>
constexpr auto seed() {
    return whole<Member>("seed", "Seed", 0, 1e9);
}
template <auto Member>
constexpr auto plain(std::string_view key, const char* caption, double least, double most,
                     FieldSteps steps = FieldSteps::by_tenth) {
    return typename Access<Member>::Field{key,
                                          caption,
                                          "",
                                          Dimension::plain,
                                          least,
                                          most,
                                          steps,
                                          Access<Member>::get,
                                          Access<Member>::set};
}
template <auto Member>
constexpr auto milliseconds(std::string_view key, const char* caption) {
    constexpr double least = 1, most = 60000;
    return typename Access<Member>::Field{key,
                                          caption,
                                          "ms",
                                          Dimension::time,
                                          least,
                                          most,
                                          FieldSteps::by_ratio,
                                          Access<Member>::get,
                                          Access<Member>::set};
}

constexpr std::array impulse_fields = {
    whole<&ImpulseRecipe::at_samples>("at_samples", "At", 0, most_samples, "samples"),
    peak<&ImpulseRecipe::peak_db>()};
constexpr std::array step_fields = {
    whole<&StepRecipe::at_samples>("at_samples", "At", 0, most_samples, "samples"),
    peak<&StepRecipe::peak_db>()};
constexpr std::array pulse_train_fields = {
    whole<&PulseTrainRecipe::period_samples>("period_samples", "Period", 1, most_samples,
                                             "samples"),
    whole<&PulseTrainRecipe::width_samples>("width_samples", "Width", 1, most_samples, "samples"),
    peak<&PulseTrainRecipe::peak_db>()};
constexpr std::array tone_fields = {
    frequency<&ToneRecipe::frequency_hz>("frequency_hz", "Frequency"),
    NumberField<ToneRecipe>{"phase_deg", "Phase", "°", Dimension::angle, -360, 360,
                            FieldSteps::by_one, Access<&ToneRecipe::phase_deg>::get,
                            Access<&ToneRecipe::phase_deg>::set},
    peak<&ToneRecipe::peak_db>()};
constexpr std::array stepped_tone_fields = {
    frequency<&SteppedToneRecipe::from_hz>("from_hz", "From"),
    frequency<&SteppedToneRecipe::to_hz>("to_hz", "To"),
    whole<&SteppedToneRecipe::steps>("steps", "Steps", 2, 1000),
    peak<&SteppedToneRecipe::peak_db>()};
constexpr std::array swept_tone_fields = {frequency<&SweptToneRecipe::from_hz>("from_hz", "From"),
                                          frequency<&SweptToneRecipe::to_hz>("to_hz", "To"),
                                          peak<&SweptToneRecipe::peak_db>()};
constexpr std::array multi_tone_fields = {frequency<&MultiToneRecipe::from_hz>("from_hz", "From"),
                                          frequency<&MultiToneRecipe::to_hz>("to_hz", "To"),
                                          whole<&MultiToneRecipe::count>("count", "Tones", 2, 1000),
                                          peak<&MultiToneRecipe::peak_db>()};
constexpr std::array white_noise_fields = {power<&WhiteNoiseRecipe::level_db>(),
                                           seed<&WhiteNoiseRecipe::seed>()};
constexpr std::array pink_noise_fields = {power<&PinkNoiseRecipe::level_db>(),
                                          seed<&PinkNoiseRecipe::seed>()};
constexpr std::array band_noise_fields = {frequency<&BandNoiseRecipe::from_hz>("from_hz", "From"),
                                          frequency<&BandNoiseRecipe::to_hz>("to_hz", "To"),
                                          power<&BandNoiseRecipe::level_db>(),
                                          seed<&BandNoiseRecipe::seed>()};
constexpr std::array saw_chord_fields = {peak<&SawChordRecipe::peak_db>()};
constexpr std::array notes_fields = {
    level<&NotesRecipe::note_peak_db>("note_peak_db", "Peak of a note")};
constexpr std::array tone_burst_fields = {
    frequency<&ToneBurstRecipe::frequency_hz>("frequency_hz", "Frequency"),
    whole<&ToneBurstRecipe::cycles>("cycles", "Cycles", 1, 100000),
    milliseconds<&ToneBurstRecipe::every_ms>("every_ms", "Every"),
    peak<&ToneBurstRecipe::peak_db>()};
constexpr std::array percussion_fields = {
    plain<&PercussionRecipe::beats_per_minute>("beats_per_minute", "Beats a minute", 20, 400,
                                               FieldSteps::by_one),
    peak<&PercussionRecipe::peak_db>(), seed<&PercussionRecipe::seed>()};
constexpr std::array clapper_fields = {milliseconds<&ClapperRecipe::every_ms>("every_ms", "Every"),
                                       peak<&ClapperRecipe::peak_db>(),
                                       seed<&ClapperRecipe::seed>()};
constexpr std::array narration_fields = {
    NumberField<NarrationRecipe>{"pitch_hz", "Pitch", "Hz", Dimension::frequency, 50, 500,
                                 FieldSteps::by_ratio, Access<&NarrationRecipe::pitch_hz>::get,
                                 Access<&NarrationRecipe::pitch_hz>::set},
    peak<&NarrationRecipe::peak_db>(), seed<&NarrationRecipe::seed>()};
constexpr double most_value = 1e6;
constexpr std::array offset_fields = {
    plain<&OffsetRecipe::value>("value", "Value", -most_value, most_value)};
constexpr std::array spikes_fields = {
    plain<&SpikesOnRampRecipe::from>("from", "From", -most_value, most_value),
    plain<&SpikesOnRampRecipe::to>("to", "To", -most_value, most_value),
    whole<&SpikesOnRampRecipe::every_samples>("every_samples", "Spikes every", 1, most_samples,
                                              "samples"),
    plain<&SpikesOnRampRecipe::height>("height", "Height", -most_value, most_value)};
constexpr std::array file_fields = {
    whole<&FileRecipe::channel>("channel", "Channel", 1, 1024),
    NumberField<FileRecipe>{"from_s", "From", "s", Dimension::time, 0, 1e6, FieldSteps::by_tenth,
                            Access<&FileRecipe::from_s>::get, Access<&FileRecipe::from_s>::set}};
constexpr std::array mix_fields = {level<&MixRecipe::ratio_db>("ratio_db", "Signal above")};

template <class Spec>
std::string summary_of_fields(const Spec& spec) {
    std::string text;
    for (const NumberField<Spec>& field : fields_of(spec)) {
        if (field.key == "seed") {
            continue;
        }
        const std::string unit = field.unit;
        text += fmt::format("{}{} {:.4g}{}{}", text.empty() ? "" : " · ", lower_case(field.caption),
                            *field.get(spec), unit.empty() || unit == "°" ? "" : " ", unit);
    }
    return text;
}

} // namespace

std::span<const Recipe> all_recipes() {
    static const auto all = []<std::size_t... I>(std::index_sequence<I...>) {
        return std::array<Recipe, sizeof...(I)>{Recipe(std::in_place_index<I>)...};
    }
    (std::make_index_sequence<std::variant_size_v<Recipe>>());
    return all;
}

std::string_view kind_of(const Recipe& recipe) {
    return std::visit([](const auto& spec) { return spec.kind; }, recipe);
}

std::string_view title_of(const Recipe& recipe) {
    return std::visit([](const auto& spec) { return spec.title; }, recipe);
}

std::string summary_of(const Recipe& recipe) {
    if (const auto* numbers = std::get_if<NumbersRecipe>(&recipe)) {
        return fmt::format("{} numbers", numbers->values.size());
    }
    if (const auto* file = std::get_if<FileRecipe>(&recipe)) {
        return fmt::format("{} · channel {:.0f}", file->path, file->channel);
    }
    if (const auto* notes = std::get_if<NotesRecipe>(&recipe)) {
        std::string keys;
        for (const Note& note : notes->notes) {
            constexpr std::size_t enough = 24;
            keys += (keys.empty() ? "" : " ") + key_text(note.key);
            if (keys.size() > enough) {
                keys += " …";
                break;
            }
        }
        return fmt::format("{} · {}", lower_case(named(names_of_note_waves(), notes->wave).title),
                           keys);
    }
    return std::visit([](const auto& spec) { return summary_of_fields(spec); }, recipe);
}

Expected<std::size_t> samples_of(const SignalLength& length, double sample_rate_hz) {
    const bool in_samples = length.unit == LengthUnit::samples;
    const double samples = std::round(in_samples ? length.value : length.value * sample_rate_hz);
    const char* key = in_samples ? "length_samples" : "length_s";
    if (!(samples >= 1 && samples <= most_samples)) {
        return refuse(key,
                      samples > most_samples ? fmt::format("{:.0f} samples are more than {}",
                                                           samples, most_signal_samples)
                                             : "is shorter than a sample",
                      fmt::format("give up to {:.0f} s", most_samples / sample_rate_hz));
    }
    return static_cast<std::size_t>(samples);
}

std::span<const NumberField<ImpulseRecipe>> fields_of(const ImpulseRecipe&) {
    return impulse_fields;
}
std::span<const NumberField<StepRecipe>> fields_of(const StepRecipe&) {
    return step_fields;
}
std::span<const NumberField<PulseTrainRecipe>> fields_of(const PulseTrainRecipe&) {
    return pulse_train_fields;
}
std::span<const NumberField<ToneRecipe>> fields_of(const ToneRecipe&) {
    return tone_fields;
}
std::span<const NumberField<SteppedToneRecipe>> fields_of(const SteppedToneRecipe&) {
    return stepped_tone_fields;
}
std::span<const NumberField<SweptToneRecipe>> fields_of(const SweptToneRecipe&) {
    return swept_tone_fields;
}
std::span<const NumberField<MultiToneRecipe>> fields_of(const MultiToneRecipe&) {
    return multi_tone_fields;
}
std::span<const NumberField<WhiteNoiseRecipe>> fields_of(const WhiteNoiseRecipe&) {
    return white_noise_fields;
}
std::span<const NumberField<PinkNoiseRecipe>> fields_of(const PinkNoiseRecipe&) {
    return pink_noise_fields;
}
std::span<const NumberField<BandNoiseRecipe>> fields_of(const BandNoiseRecipe&) {
    return band_noise_fields;
}
std::span<const NumberField<SawChordRecipe>> fields_of(const SawChordRecipe&) {
    return saw_chord_fields;
}
std::span<const NumberField<NotesRecipe>> fields_of(const NotesRecipe&) {
    return notes_fields;
}
std::span<const NumberField<ToneBurstRecipe>> fields_of(const ToneBurstRecipe&) {
    return tone_burst_fields;
}
std::span<const NumberField<PercussionRecipe>> fields_of(const PercussionRecipe&) {
    return percussion_fields;
}
std::span<const NumberField<ClapperRecipe>> fields_of(const ClapperRecipe&) {
    return clapper_fields;
}
std::span<const NumberField<NarrationRecipe>> fields_of(const NarrationRecipe&) {
    return narration_fields;
}
std::span<const NumberField<OffsetRecipe>> fields_of(const OffsetRecipe&) {
    return offset_fields;
}
std::span<const NumberField<NumbersRecipe>> fields_of(const NumbersRecipe&) {
    return {};
}
std::span<const NumberField<SpikesOnRampRecipe>> fields_of(const SpikesOnRampRecipe&) {
    return spikes_fields;
}
std::span<const NumberField<FileRecipe>> fields_of(const FileRecipe&) {
    return file_fields;
}
std::span<const NumberField<MixRecipe>> fields_of(const MixRecipe&) {
    return mix_fields;
}

} // namespace syntonon
