// What measuring costs and how right it is: bench_measure
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/spent.h"
#include "core/base/units.h"
#include "core/curve/averages.h"
#include "core/curve/decay.h"
#include "core/curve/deconvolution.h"
#include "core/curve/gate.h"
#include "core/curve/smoothing.h"
#include "core/exchange/measured_file.h"
#include "core/exchange/sound_stream.h"
#include "core/math/seeded.h"
#include "standin/recorder.h"
#include "standin/room.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <string>

using namespace syntonon;

namespace {

double peak_memory_mb() {
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);) {
        if (line.starts_with("VmHWM:")) {
            return std::stod(line.substr(6)) / 1024;
        }
    }
    return 0;
}

const ImpulseResponse& room() {
    static const ImpulseResponse impulse =
        *room_response({}, {{3, 4, 6}, {parametric(ParametricShape::high_pass, 40, 0, 0.8)}, 0},
                       {10, 9, 1.2}, 48'000);
    return impulse;
}

void measure_accuracy() {
    SweepPlan plan;
    plan.from_hz = 4;
    plan.to_hz = 23'500;
    plan.lead_out_s = 1;
    RecorderPlan recorder;
    recorder.signal_to_noise_db = 60;
    const Recording made = recorded(played_samples(plan), room(), recorder);
    std::optional<Deconvolved> found;
    const Spent cost = spent_on([&] { found = *deconvolved(made.channels[0], plan); });
    fmt::print("sweep of 10 s at 48 kHz deconvolved: {:.3f} s, {:.3f} s of CPU\n", cost.wall_s,
               cost.cpu_s);
    const Gate gate{-0.01, -0.008, 0.45, 0.5, 15};
    const double middle_s = arrival_s(room());
    const Curve wanted = *gated_response(room(), gate, middle_s);
    const CurveReader got(*gated_response(found->response, gate, middle_s));
    double off_db = 0, off_deg = 0;
    for (std::size_t i = 0; i < wanted.frequency_hz.size(); ++i) {
        const double hz = wanted.frequency_hz[i];
        if (hz >= 20 && hz <= 20e3) {
            off_db = std::max(off_db, std::abs(got.magnitude_db_at(hz) - wanted.magnitude_db[i]));
            off_deg = std::max(
                off_deg, std::abs(std::remainder(got.phase_deg_at(hz) - wanted.phase_deg[i], 360)));
        }
    }
    fmt::print("the room at 60 dB above noise, 20 Hz to 20 kHz: within {:.4f} dB, {:.3f} degrees\n",
               off_db, off_deg);
}

// Files of 131072 samples as a room leaves them.
void measure_import() {
    const auto folder = std::filesystem::temp_directory_path() / "bench_measure";
    std::filesystem::create_directories(folder);
    constexpr int positions = 64;
    for (int i = 0; i < positions; ++i) {
        std::vector<double> samples(131'072);
        Seeded random(i + 1);
        for (std::size_t n = 200; n < samples.size(); ++n) {
            samples[n] = 0.1 * random.normal() * std::exp(-static_cast<double>(n) / 8000);
        }
        samples[200] = 0.9;
        auto writer = *SoundWriter::create(folder / fmt::format("row {}.wav", i), {48'000, 1, 0},
                                           SoundWords::float_32);
        static_cast<void>(writer->write(samples));
        static_cast<void>(writer->finish());
    }
    std::vector<Curve> curves;
    const Spent cost = spent_on([&] {
        for (int i = 0; i < positions; ++i) {
            MeasuredFile file = read_measured_file(folder / fmt::format("row {}.wav", i));
            curves.push_back(std::move(file.entries.at(0).curve));
        }
        std::vector<WeightedCurve> weighted;
        for (const Curve& curve : curves) {
            weighted.push_back({&curve, 1});
        }
        for (const AverageOf of : {AverageOf::power, AverageOf::vectors}) {
            static_cast<void>(averaged(weighted, of));
        }
    });
    fmt::print("64 positions of 131072 samples imported, averages of power and vectors: {:.2f} s, "
               "{:.2f} s of CPU, {:.0f} MB at most\n",
               cost.wall_s, cost.cpu_s, peak_memory_mb());
    Curve dense;
    for (int i = 0; i < 131'072; ++i) {
        dense.frequency_hz.push_back(20 * std::pow(1000.0, i / 131'071.0));
        dense.magnitude_db.push_back(std::sin(i * 0.37) * 6);
        dense.phase_deg.push_back(std::remainder(i * 7.3, 360));
    }
    for (const bool phase : {false, true}) {
        Curve curve = dense;
        if (!phase) {
            curve.phase_deg.clear();
        }
        const Spent smooth = spent_on([&] {
            static_cast<void>(smoothed(curve, {SmoothingKind::octave, 1.0 / 12, false}, 96));
        });
        fmt::print("131072 points smoothed at 1/12 octave{}: {:.1f} ms of CPU\n",
                   phase ? ", with phase" : "", 1e3 * smooth.cpu_s);
    }
    std::filesystem::remove_all(folder);
}

// Noise that dies away evenly, 60 dB above a floor.
void measure_decay() {
    double worst = 0;
    for (const double time_s : {0.3, 0.8, 2.0}) {
        for (int seed = 1; seed <= 8; ++seed) {
            Seeded random(seed);
            ImpulseResponse impulse{48'000, {}, 0};
            for (std::size_t n = 0; n < static_cast<std::size_t>(2.5 * time_s * 48'000); ++n) {
                const double s = static_cast<double>(n) / 48'000;
                impulse.samples.push_back(random.normal() * std::pow(10, -3 * s / time_s)
                                          + 1e-3 * random.normal());
            }
            const auto found = decay_time_s(decay_of(impulse), -5, -35);
            worst = std::max(worst, std::abs(found.value_or(0) / time_s - 1));
        }
    }
    fmt::print("T30 of exponential noise of 0.3, 0.8 and 2 s, 60 dB above a floor, 8 seeds each: "
               "within {:.2f} %\n",
               100 * worst);
}

} // namespace

int main() {
    measure_accuracy();
    measure_import();
    measure_decay();
}
