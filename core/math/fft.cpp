// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/fft.h"

#include <algorithm>
#include <deque>
#include <fftw3.h>
#include <functional>
#include <mutex>
#include <type_traits>

namespace syntonon {
namespace {

enum class Way { to_spectrum, to_signal };

// FFTW plans for one thread at a time.
std::mutex& planner() {
    static std::mutex mutex;
    return mutex;
}

// What a plan is good for (FFTW's manual, 4.6).
struct Task {
    std::size_t length;
    Way way;
    bool is_in_place;
    int alignment; // of the worse aligned array

    Task(std::size_t n, Way w, double* signal, fftw_complex* spectrum)
        : length(n), way(w), is_in_place(static_cast<void*>(signal) == spectrum),
          alignment(std::max(fftw_alignment_of(signal),
                             fftw_alignment_of(reinterpret_cast<double*>(spectrum)))) {}
    bool operator==(const Task&) const = default;
};

// Any thread may execute it, on arrays of its own.
using Plan = std::shared_ptr<std::remove_pointer_t<fftw_plan>>;

// Estimated plans do not depend on how busy the machine is, so results repeat; nor do they touch
// what stands in the arrays.
Plan planned(const Task& task, double* signal, fftw_complex* spectrum) {
    const auto n = static_cast<int>(task.length);
    const fftw_plan made = task.way == Way::to_spectrum
                               ? fftw_plan_dft_r2c_1d(n, signal, spectrum, FFTW_ESTIMATE)
                               : fftw_plan_dft_c2r_1d(n, spectrum, signal, FFTW_ESTIMATE);
    return Plan(made, [](fftw_plan plan) {
        const std::lock_guard lock(planner());
        fftw_destroy_plan(plan);
    });
}

// A plan costs more than its transform, and what is dragged asks for the same lengths again and
// again: the last few are kept, the newest in front.
Plan plan_for(std::size_t length, Way way, double* signal, fftw_complex* spectrum) {
    struct Kept {
        Task task;
        Plan plan;
    };
    constexpr std::size_t most_kept = 16, most_samples = std::size_t{1} << 21; // about 30 MB
    const Task task(length, way, signal, spectrum);
    Plan plan;
    std::vector<Plan> oldest; // destroyed when the planner is free again
    const std::lock_guard lock(planner());
    static std::size_t samples = 0; // of all lengths
    // Never destroyed: threads may still transform while the program ends.
    static std::deque<Kept>& all = *new std::deque<Kept>;
    const auto found = std::ranges::find(all, task, &Kept::task);
    if (found != all.end()) {
        plan = found->plan;
        all.erase(found);
    } else {
        plan = planned(task, signal, spectrum);
        samples += length;
    }
    all.push_front({task, plan});
    while (all.size() > most_kept || (all.size() > 1 && samples > most_samples)) {
        samples -= all.back().task.length;
        oldest.push_back(std::move(all.back().plan));
        all.pop_back();
    }
    return plan;
}

constexpr std::size_t worth_a_transform = 64; // below, summing term by term is quicker

// An impulse is a short sequence, however long its silence.
std::span<const double> without_zeros_at_the_end(std::span<const double> x) {
    while (!x.empty() && x.back() == 0) {
        x = x.first(x.size() - 1);
    }
    return x;
}

std::vector<double> summed_convolution(std::span<const double> a, std::span<const double> b,
                                       std::size_t count) {
    std::vector<double> out(count, 0.0);
    for (std::size_t i = 0; i < std::min(a.size(), count); ++i) {
        for (std::size_t k = 0; k < std::min(b.size(), count - i); ++k) {
            out[i + k] += a[i] * b[k];
        }
    }
    return out;
}

} // namespace

struct RealFft::Arrays {
    double* signal;
    fftw_complex* spectrum;
    Plan forward, backward; // looked for when first needed

    explicit Arrays(std::size_t n)
        : signal(fftw_alloc_real(n)), spectrum(fftw_alloc_complex(n / 2 + 1)) {}
    Arrays(const Arrays&) = delete;
    Arrays& operator=(const Arrays&) = delete;
    ~Arrays() {
        fftw_free(signal);
        fftw_free(spectrum);
    }
};

RealFft::RealFft(std::size_t length) : length_(length), arrays_(std::make_unique<Arrays>(length)) {}
RealFft::~RealFft() = default;

std::span<double> RealFft::signal() {
    return {arrays_->signal, length_};
}

std::span<std::complex<double>> RealFft::spectrum() {
    // FFTW's manual, 4.1.1: its complex numbers are laid out as those of the standard library.
    return {reinterpret_cast<std::complex<double>*>(arrays_->spectrum), length_ / 2 + 1};
}

void RealFft::plan_both_ways() {
    auto& [signal, spectrum, forward, backward] = *arrays_;
    forward = forward ? forward : plan_for(length_, Way::to_spectrum, signal, spectrum);
    backward = backward ? backward : plan_for(length_, Way::to_signal, signal, spectrum);
}

void RealFft::to_spectrum() {
    auto& [signal, spectrum, forward, backward] = *arrays_;
    if (forward == nullptr) {
        forward = plan_for(length_, Way::to_spectrum, signal, spectrum);
    }
    fftw_execute_dft_r2c(forward.get(), signal, spectrum);
}

void RealFft::to_signal() {
    auto& [signal, spectrum, forward, backward] = *arrays_;
    if (backward == nullptr) {
        backward = plan_for(length_, Way::to_signal, signal, spectrum);
    }
    fftw_execute_dft_c2r(backward.get(), spectrum, signal);
}

std::span<double> signal_in(std::span<std::complex<double>> bins) {
    // The standard lets complex numbers be read as pairs of their parts ([complex.numbers] 4).
    return {reinterpret_cast<double*>(bins.data()), 2 * bins.size()};
}

void to_spectrum_in_place(std::span<std::complex<double>> bins, std::size_t length) {
    auto* signal = reinterpret_cast<double*>(bins.data());
    auto* spectrum = reinterpret_cast<fftw_complex*>(bins.data());
    const Plan plan = plan_for(length, Way::to_spectrum, signal, spectrum);
    fftw_execute_dft_r2c(plan.get(), signal, spectrum);
}

std::size_t quick_fft_length(std::size_t least) {
    for (std::size_t length = std::max<std::size_t>(2, least + least % 2);; length += 2) {
        std::size_t rest = length;
        for (const std::size_t prime : {2u, 3u, 5u}) {
            while (rest % prime == 0) {
                rest /= prime;
            }
        }
        if (rest == 1) {
            return length;
        }
    }
}

std::vector<double> convolved(std::span<const double> a, std::span<const double> b,
                              std::size_t count) {
    a = without_zeros_at_the_end(a.first(std::min(a.size(), count)));
    b = without_zeros_at_the_end(b.first(std::min(b.size(), count)));
    if (std::min(a.size(), b.size()) < worth_a_transform) {
        return summed_convolution(a, b, count);
    }
    const std::size_t length = quick_fft_length(a.size() + b.size() - 1);
    RealFft first(length), second(length);
    for (const auto& [from, fft] : {std::pair(a, &first), std::pair(b, &second)}) {
        const auto end = std::ranges::copy(from, fft->signal().begin()).out;
        std::fill(end, fft->signal().end(), 0.0);
        fft->to_spectrum();
    }
    std::ranges::transform(first.spectrum(), second.spectrum(), first.spectrum().begin(),
                           std::multiplies<>());
    first.to_signal();
    std::vector<double> out(count, 0.0);
    for (std::size_t i = 0; i < std::min(count, length); ++i) {
        out[i] = first.signal()[i] / static_cast<double>(length);
    }
    return out;
}

std::vector<double> convolution_inverse(std::span<const double> a, std::size_t count) {
    std::vector<double> inverse{1 / a[0]};
    while (inverse.size() < count) {
        // inverse <- inverse (2 - a inverse), right to twice as many samples.
        const std::size_t next = std::min(2 * inverse.size(), count);
        std::vector<double> rest = convolved(a, inverse, next);
        std::ranges::transform(rest, rest.begin(), std::negate<>());
        rest[0] += 2;
        inverse = convolved(inverse, rest, next);
    }
    inverse.resize(count);
    return inverse;
}

} // namespace syntonon
