// What a modelled filter has, whatever its equations: what it is built of, knobs for each voice,
// and a multiple of the rate at which it is at work. It needs nothing but the standard library,
// since what instruments are given is this text.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/modelled/oversampling_kernel.h"

#include <array>
#include <cstddef>

namespace syntonon::modelled {

// Voices side by side, each with its own knobs and states. A core brings `voices`, `Build` (with
// `doublings`), `Knobs`, prepare(), set() of a voice, reset() of one, and set_frequencies() of all,
// which makes the same of each, and with_step(use), which calls use(step) with what takes a sample
// of each in place at the higher rate. Allocates nothing.
template <class Core>
class ModelledFilter {
public:
    static constexpr std::size_t voices = Core::voices;
    using Build = typename Core::Build;
    using Knobs = typename Core::Knobs;
    using Row = std::array<double, voices>; // a sample of each voice

    // Forgets all that was, knobs too.
    void prepare(const Build& build, double sample_rate_hz) {
        *this = ModelledFilter();
        doublings_ = build.doublings < most_doublings ? build.doublings : most_doublings;
        core_.prepare(build, sample_rate_hz * static_cast<double>(std::size_t(1) << doublings_));
        for (std::size_t j = 0; j < voices; ++j) {
            core_.set(j, Knobs(), knobs_[j]);
        }
    }

    // Works out coefficients only where something changes.
    void set(std::size_t voice, const Knobs& knobs) {
        if (!(knobs == knobs_[voice])) {
            core_.set(voice, knobs_[voice], knobs);
            knobs_[voice] = knobs;
        }
    }
    const Knobs& knobs(std::size_t voice) const { return knobs_[voice]; }
    // Of all voices at once; all other knobs stay.
    void set_frequencies(const Row& hz) {
        bool same = true;
        for (std::size_t j = 0; j < voices; ++j) {
            same = same && hz[j] == knobs_[j].frequency_hz;
            knobs_[j].frequency_hz = hz[j];
        }
        if (!same) {
            core_.set_frequencies(hz);
        }
    }

    // Back to rest; what is set stays.
    void reset(std::size_t voice) {
        core_.reset(voice);
        for (std::size_t level = 0; level < most_doublings; ++level) {
            states_.up[level].reset(voice);
            states_.down[level].reset(voice);
        }
    }
    void reset() {
        for (std::size_t j = 0; j < voices; ++j) {
            reset(j);
        }
    }

    // `count` samples of each voice, in place.
    void process(Row* rows, std::size_t count) {
        core_.with_step([this, rows, count](auto step) {
            switch (doublings_) {
            case 0:
                return run<0>(rows, count, step);
            case 1:
                return run<1>(rows, count, step);
            case 2:
                return run<2>(rows, count, step);
            default:
                return run<3>(rows, count, step);
            }
        });
    }

private:
    template <std::size_t Count, class Step>
    void run(Row* rows, std::size_t count, Step& step) {
        for (std::size_t n = 0; n < count; ++n) {
            run_doubled<Count>(states_, rows[n], step);
        }
    }

    std::size_t doublings_ = 0;
    std::array<Knobs, voices> knobs_{};
    Core core_;
    Doublings<voices> states_;
};

} // namespace syntonon::modelled
