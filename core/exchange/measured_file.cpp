// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/measured_file.h"

#include "core/base/number_text.h"
#include "core/curve/worked_out.h"
#include "core/exchange/sound_channels.h"
#include "core/exchange/sound_taps.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

bool is_silent(const std::vector<double>& samples) {
    return std::ranges::all_of(samples, [](double x) { return x == 0; });
}

std::int64_t most_frames(const MeasuredFileOptions& options) {
    const std::size_t played =
        lead_in_samples(options.sweep)
        + period_samples(options.sweep) * static_cast<std::size_t>(options.sweep.repeats);
    const double played_s = static_cast<double>(played) / options.sweep.sample_rate_hz;
    constexpr double spare_s = 60, highest_rate_hz = 192e3;
    const auto recording = static_cast<std::int64_t>((2 * played_s + spare_s) * highest_rate_hz);
    const auto impulse = static_cast<std::int64_t>(most_impulse_samples);
    return options.sounds == SoundHolds::impulse_responses ? impulse : std::max(impulse, recording);
}

Expected<void> take_impulse(ImpulseResponse impulse, MeasuredEntry& entry,
                            std::vector<HarmonicLevels> harmonics = {}) {
    if (impulse.samples.size() > most_impulse_samples) {
        return refuse("",
                      fmt::format("holds {} samples, too many for an impulse response",
                                  impulse.samples.size()),
                      "cut it, or say that it is a recorded sweep");
    }
    if (const auto worst = worst_noise(impulse); worst && !worst->at_least) {
        entry.signal_to_noise_db = worst->signal_to_noise_db;
    }
    Measurement measured;
    measured.impulse = std::move(impulse);
    measured.harmonics = std::move(harmonics);
    entry.curve.origin = CurveOrigin{std::move(measured), "", "", {}};
    auto made = worked_out(std::move(entry.curve), nullptr, nullptr);
    if (!made) {
        return tl::unexpected(made.error());
    }
    entry.curve = std::move(*made);
    return {};
}

void note_full_scale(const std::vector<double>& samples, std::vector<std::string>& notes) {
    const auto full =
        std::ranges::count_if(samples, [](double x) { return std::abs(x) >= 0.99997; });
    constexpr std::ptrdiff_t one_normalised = 1;
    if (full > one_normalised) {
        notes.push_back(fmt::format(
            "{} samples stand at full scale: it may be clipped. Record it with less gain.", full));
    }
}

class SoundTaker {
public:
    SoundTaker(SoundChannels sound, const MeasuredFileOptions& options, MeasuredFile& into)
        : sound_(std::move(sound)), options_(options), into_(into) {}

    Expected<void> take() {
        const auto& channels = sound_.channels;
        if (std::ranges::all_of(channels, is_silent)) {
            return refuse("", "is silent",
                          "look at the cable and at the level, and record it again");
        }
        const auto loud = std::ranges::find_if_not(channels, is_silent);
        into_.sound = options_.sounds.value_or(likely_sound(*loud, sound_.sample_rate_hz));
        if (auto ok = find_reference(); !ok) {
            return ok;
        }
        std::vector<std::string> silent;
        for (std::size_t i = 0; i < channels.size(); ++i) {
            if (is_silent(channels[i])) {
                silent.push_back(fmt::format("Channel {} of {} is silent and left out.", i + 1,
                                             channels.size()));
            } else if (&channels[i] != reference_) {
                if (auto ok = take(i); !ok) {
                    return ok;
                }
            }
        }
        for (MeasuredEntry& entry : into_.entries) {
            entry.notes.insert(entry.notes.end(), silent.begin(), silent.end());
            entry.notes.insert(entry.notes.end(), sound_.notes.begin(), sound_.notes.end());
        }
        return {};
    }

private:
    // What rings long is no sweep while no tone rises in it.
    SoundHolds likely_sound(const std::vector<double>& samples, double sample_rate_hz) const {
        SweepPlan plan = options_.sweep;
        plan.sample_rate_hz = sample_rate_hz;
        const bool is_sweep =
            !looks_like_impulse(samples, sample_rate_hz) && holds_sweep(samples, plan);
        return is_sweep ? SoundHolds::sweep_recordings : SoundHolds::impulse_responses;
    }

    Expected<void> find_reference() {
        if (!options_.reference_channel || into_.sound != SoundHolds::sweep_recordings) {
            return {};
        }
        const auto index = static_cast<std::size_t>(*options_.reference_channel - 1);
        if (index >= sound_.channels.size() || sound_.channels.size() < 2) {
            return refuse("",
                          fmt::format("has {} channel{}, so none beside a reference on channel {}",
                                      sound_.channels.size(),
                                      sound_.channels.size() == 1 ? "" : "s",
                                      *options_.reference_channel),
                          "choose another channel for the reference, or none");
        }
        reference_ = &sound_.channels[index];
        return {};
    }

    Expected<void> take(std::size_t channel) {
        MeasuredEntry entry;
        entry.channel = static_cast<int>(channel) + 1;
        const auto& samples = sound_.channels[channel];
        auto taken = into_.sound == SoundHolds::impulse_responses ? take_impulse_of(samples, entry)
                                                                  : take_recording(samples, entry);
        if (!taken) {
            return taken;
        }
        into_.entries.push_back(std::move(entry));
        return {};
    }

    Expected<void> take_impulse_of(const std::vector<double>& samples, MeasuredEntry& entry) {
        note_full_scale(samples, entry.notes);
        return take_impulse({sound_.sample_rate_hz, samples, 0}, entry);
    }

    Expected<void> take_recording(const std::vector<double>& samples, MeasuredEntry& entry) {
        SweepPlan plan = options_.sweep;
        plan.sample_rate_hz = sound_.sample_rate_hz;
        const auto told = options_.rate_by_sweep ? told_rate_hz(samples, plan) : std::nullopt;
        if (told && plan.to_hz <= *told / 2) { // else its upper end is not in the recording
            plan.sample_rate_hz = *told;
            entry.notes.push_back(
                fmt::format("Taken as recorded at {:g} Hz, which its sweep tells.", *told));
        }
        auto made = reference_ != nullptr ? deconvolved_against(samples, *reference_, plan)
                                          : deconvolved(samples, plan);
        if (!made && reference_ != nullptr && is_silent(*reference_)) {
            made = deconvolved(samples, plan); // said below
        }
        if (!made) {
            return tl::unexpected(made.error());
        }
        entry.doubts = doubts_of(
            samples, reference_ != nullptr ? *reference_ : std::vector<double>(), plan, *made);
        std::vector<HarmonicLevels> harmonics = harmonic_levels(*made, plan);
        // A recording's noise is far above what single precision loses, and it takes half the room.
        for (double& x : made->response.samples) {
            x = static_cast<float>(x);
        }
        return take_impulse(std::move(made->response), entry, std::move(harmonics));
    }

    SoundChannels sound_;
    const MeasuredFileOptions& options_;
    MeasuredFile& into_;
    const std::vector<double>* reference_ = nullptr;
};

Expected<void> take_sound(const std::filesystem::path& path, const MeasuredFileOptions& options,
                          MeasuredFile& into) {
    auto sound = sound_channels(path, most_frames(options));
    if (!sound) {
        return tl::unexpected(sound.error());
    }
    auto taken = SoundTaker(std::move(*sound), options, into).take();
    return taken ? taken : tl::unexpected(in_file(path.string(), taken.error()));
}

Expected<void> take_text(const std::filesystem::path& path, const MeasuredFileOptions& options,
                         MeasuredFile& into) {
    auto read = import_text_file(path, options.text);
    if (!read) {
        return tl::unexpected(read.error());
    }
    MeasuredEntry entry;
    entry.curve = std::move(read->curve);
    entry.notes = std::move(read->notes);
    if (read->decimal_comma) {
        entry.notes.emplace_back("Commas were read as decimal points.");
    }
    if (read->kilohertz) {
        entry.notes.emplace_back("Frequencies were read as kHz.");
    }
    into.entries.push_back(std::move(entry));
    return {};
}

} // namespace

bool looks_like_impulse(const std::vector<double>& samples, double sample_rate_hz) {
    const auto peak = std::ranges::max_element(samples, {}, [](double x) { return std::abs(x); });
    double near = 0, all = 0;
    const auto reach = static_cast<std::ptrdiff_t>(0.05 * sample_rate_hz);
    for (auto at = samples.begin(); at != samples.end(); ++at) {
        all += *at * *at;
        near += std::abs(at - peak) <= reach ? *at * *at : 0;
    }
    return near > all / 2;
}

MeasuredFile read_measured_file(const std::filesystem::path& path,
                                const MeasuredFileOptions& options) {
    MeasuredFile file;
    file.path = path;
    const auto taken =
        is_sound_file(path) ? take_sound(path, options, file) : take_text(path, options, file);
    if (!taken) {
        file.problem = taken.error();
        file.entries.clear();
    }
    return file;
}

} // namespace syntonon
