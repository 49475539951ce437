// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/sample_commands.h"

#include "app/model/selected_fir.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/design/fir/equal_steps.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

const SampledFir* sampled_fir(const Session& session) {
    const FirSpec* spec = selected_fir(session);
    return spec != nullptr ? std::get_if<SampledFir>(&spec->method) : nullptr;
}

std::size_t length_of(const FirSpec& spec) {
    return static_cast<std::size_t>(std::max(spec.length, 1));
}

QString at_text(double hz) {
    return QString::fromStdString(frequency_text(hz));
}

// Nothing where each of the others has taken one.
std::optional<double> nearest_free_step(const std::vector<FirSample>& samples, std::size_t index,
                                        double step_hz, double end_hz) {
    const auto taken = [&](double hz) {
        return std::ranges::any_of(samples, [&](const FirSample& other) {
            return &other != &samples[index] && std::abs(other.frequency_hz - hz) < step_hz / 1000;
        });
    };
    std::optional<double> nearest;
    const double now = samples[index].frequency_hz;
    for (double k = 0; k * step_hz <= end_hz; ++k) {
        const double hz = k * step_hz;
        if (!taken(hz) && (!nearest || std::abs(hz - now) < std::abs(*nearest - now))) {
            nearest = hz;
        }
    }
    return nearest;
}

} // namespace

std::optional<SamplesInHand> samples_in_hand(const Session& session) {
    const SampledFir* method = sampled_fir(session);
    if (method == nullptr || selected_fir(session)->length > static_cast<int>(most_free_samples)) {
        return std::nullopt;
    }
    if (!method->samples.empty()) {
        return SamplesInHand{method->samples, true};
    }
    const FirSpec& spec = *selected_fir(session);
    const StageAnalysis* stage = session.stage_analysis();
    const Brief brief =
        stage != nullptr && stage->brief != nullptr ? *stage->brief : brief_at(session.axis());
    const auto made = samples_at_equal_steps(*method, {length_of(spec), spec.wish, brief, Watch()});
    return made ? std::optional(SamplesInHand{*made, false}) : std::nullopt;
}

void edit_samples(Session& session, const QString& name,
                  const std::function<void(std::vector<FirSample>&)>& change,
                  const QString& gesture) {
    auto now = samples_in_hand(session);
    if (!now) {
        return;
    }
    change(now->samples);
    if (now->samples.empty()) {
        return; // the last one stays
    }
    session.edit_stage(
        name,
        [&](Stage& stage) {
            auto& method = std::get<SampledFir>(std::get<FirSpec>(stage.spec.edit()).method);
            method.samples = now->samples;
            method.between = SampledFir::Between::straight;
        },
        gesture);
}

double gain_found(const Session& session, const FirSample& sample) {
    if (sample.gain) {
        return *sample.gain;
    }
    const StageAnalysis* stage = session.stage_analysis();
    if (stage == nullptr || !stage->filter) {
        return 0;
    }
    const double hz = std::max(sample.frequency_hz, 1e-3);
    return ratio_from_db(
        stage->filter->response_at(hz, session.study().sample_rate_hz).magnitude_db);
}

void toggle_best(Session& session, std::size_t index) {
    const auto now = samples_in_hand(session);
    if (!now || index >= now->samples.size()) {
        return;
    }
    const FirSample& sample = now->samples[index];
    const double found = gain_found(session, sample);
    const QString name = sample.gain ? QObject::tr("Leave the sample at %1 to the program")
                                     : QObject::tr("Keep the sample at %1 as it is");
    edit_samples(session, name.arg(at_text(sample.frequency_hz)),
                 [&](std::vector<FirSample>& samples) {
                     FirSample& changed = samples[index];
                     changed.gain = changed.gain ? std::nullopt : std::optional(found);
                 });
}

void remove_sample(Session& session, std::size_t index) {
    const auto now = samples_in_hand(session);
    if (now && index < now->samples.size()) {
        edit_samples(
            session,
            QObject::tr("Remove the sample at %1").arg(at_text(now->samples[index].frequency_hz)),
            [&](std::vector<FirSample>& samples) {
                samples.erase(samples.begin() + static_cast<std::ptrdiff_t>(index));
            });
    }
}

void put_on_grid(Session& session, std::optional<std::size_t> index) {
    const FirSpec* spec = selected_fir(session);
    if (sampled_fir(session) == nullptr) {
        return;
    }
    const std::size_t length = length_of(*spec);
    const double rate = session.study().sample_rate_hz;
    edit_samples(session,
                 index ? QObject::tr("Put a sample on the grid")
                       : QObject::tr("Put all samples on the grid"),
                 [&](std::vector<FirSample>& samples) {
                     if (!index) {
                         samples = on_equal_steps(samples, length, rate);
                     } else if (*index < samples.size()) {
                         const auto step = nearest_free_step(
                             samples, *index, rate / static_cast<double>(length), rate / 2);
                         samples[*index].frequency_hz = step.value_or(samples[*index].frequency_hz);
                     }
                 });
}

} // namespace syntonon
