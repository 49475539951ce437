// What a designed stage or a chain of them is, whatever its form: the one thing that draws, judges,
// plays and exports ask.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/cost.h"
#include "core/filter/grid.h"
#include "core/filter/probe.h"
#include "core/filter/rational.h"
#include "core/filter/response.h"
#include "core/filter/roots.h"
#include "core/filter/stability.h"
#include "core/filter/telling.h"

#include <cstddef>
#include <memory>
#include <span>
#include <vector>

namespace syntonon {

struct Taps;          // an impulse response (a Cascade is in biquad.h)
struct Delay;         // whole samples
struct Gain;          // a factor
struct Series;        // one after the other
struct ParallelSum;   // side by side, summed
struct Loop;          // fed back
struct Repeated;      // several times, one after the other
struct Computed;      // in a way of its own
struct Oversampled;   // at twice the rate
struct AnalogCascade; // second-order sections in the s-plane
struct AnyForm;       // one of them; see form.h
struct PhaseKnot;     // see unwrap.h

// An immutable value; copies share it, and different threads may ask it. Without a form it is a
// wire. It is analog when a part of it is: it is then asked on an analog axis, its delays being
// counted in samples of the axis' rate, and has no answers in samples. Taps, delays and cascades in
// z have no place in it.
class Filter {
public:
    Filter();
    Filter(Cascade form);
    Filter(Cascade form, Roots known); // where the designer knows the roots better
    Filter(Taps form);
    Filter(Delay form);
    Filter(Gain form);
    Filter(Series form); // see series() below
    Filter(ParallelSum form);
    Filter(Loop form);
    Filter(Repeated form); // see repeated()
    Filter(Computed form);
    Filter(Oversampled form);
    Filter(AnalogCascade form);
    Filter(AnalogCascade form, Roots known);

    bool is_analog() const; // any part of it
    // Analog parts beside sampled ones, asked on a sampled axis (analog_where_possible()).
    bool is_mixed() const;

    // H and dH/dw at each grid point.
    std::vector<FilterValue> values(const FrequencyGrid& grid) const;
    // Level, unwrapped phase from 0 Hz on, group delay.
    Response response(const FrequencyGrid& grid) const;
    ResponsePoint response_at(double frequency_hz, const Axis& axis) const;
    // Quicker ways to one of the three; the phase but for whole turns.
    std::vector<double> magnitude_db(const FrequencyGrid& grid) const;
    std::vector<double> wrapped_phase_rad(const FrequencyGrid& grid) const;
    std::vector<double> group_delay_samples(const FrequencyGrid& grid) const;
    std::shared_ptr<const Prober> prober() const; // for Probe

    // Frequencies in the range that, with a logarithmic grid of its ratio, leave at most one
    // extremum of level, phase or delay between neighbours. Unsorted.
    std::vector<double> telling_hz(const TellingRange& range) const;
    // Of a filter whose phase has to be followed to answer response(): where that is done, from 0
    // Hz on, once for all. It tells as much over the whole axis. Of others empty.
    std::vector<double> followed_hz(const Axis& axis) const;

    // Worked out when first asked for; refused where they cannot be had, and why.
    const Expected<Roots>& roots() const;
    // Whether they answer at once; zeros of many taps take a while to find.
    bool has_roots_at_hand() const;
    // See rational.h; kept like the roots.
    const Expected<Rational>& rational() const;
    // How long it remembers its input, but for poles that ring on: the degree of its polynomials.
    double finite_samples() const;
    // Of what is added up or fed back, the same: how finely its answer ripples. 0 for what has no
    // ripples but those of its poles.
    double rippling_samples() const;
    // 0 without poles; refused where they cannot be had. The rate is for analog ones: see roots.h.
    Expected<double> slowest_pole_radius(double sample_rate_hz = 1) const;
    // 1 less that: positive when stable, 1 without poles.
    Expected<double> stability_margin(double sample_rate_hz = 1) const;
    // Also where the poles cannot be had. Worked out when first asked for.
    const Expected<Stability>& stability() const;
    bool is_stable() const; // false where it is not known

    // The signal, started from rest, run through.
    void run(std::span<double> signal) const;
    // The first `length` samples of the response to 1, 0, 0, ..., of the linear filter where the
    // signal is computed in a way of its own.
    std::vector<double> impulse_response(std::size_t length) const;
    // Samples before the impulse response's first non-zero one.
    double latency_samples() const;
    Cost cost() const;

    // The same filter as second-order sections, a gain as a section of its own. Refused, with what
    // is in the way, for all else.
    Expected<Cascade> sections() const;
    // The same for an analog one.
    Expected<AnalogCascade> analog_sections() const;
    // What comes out of an impulse's first sample at once; H(infinity) of an analog filter.
    double at_once() const;

    const AnyForm& form() const;
    // The very same, not an equal one.
    bool is_same_as(const Filter& other) const { return held_ == other.held_; }
    bool operator==(const Filter& other) const; // of equal forms
    std::size_t bytes() const;                  // of memory, shared ones too

private:
    struct Held;
    explicit Filter(AnyForm form);
    std::shared_ptr<const std::vector<PhaseKnot>> phase_knots(const Axis& asked) const;
    std::shared_ptr<const std::vector<PhaseKnot>> followed_on(const Axis& axis) const;
    bool has_few_roots_well_apart() const;
    std::shared_ptr<const Held> held_;
};

// One filter of a chain, in the order of the signal. Neighbouring cascades become one.
Filter series(std::span<const Filter> chain);

} // namespace syntonon
