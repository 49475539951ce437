// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/filter_engine.h"

#include "core/engine/direct_fir.h"
#include "core/engine/partitioned_fir.h"
#include "core/engine/staggered_sections.h"
#include "core/filter/form.h"
#include "core/filter/stepper.h"

#include <algorithm>
#include <utility>
#include <vector>

namespace syntonon {
namespace {

using Made = std::unique_ptr<Engine>;

class GainEngine final : public Engine {
public:
    explicit GainEngine(double factor) : factor_(factor) {}
    void process(std::span<double> block) noexcept override {
        for (double& sample : block) {
            sample *= factor_;
        }
    }
    void reset() noexcept override {}

private:
    double factor_;
};

class DelayEngine final : public Engine {
public:
    explicit DelayEngine(std::size_t samples) : held_(samples) {}
    void process(std::span<double> block) noexcept override {
        if (held_.empty()) {
            return;
        }
        for (double& sample : block) {
            std::swap(sample, held_[oldest_]);
            oldest_ = oldest_ + 1 == held_.size() ? 0 : oldest_ + 1;
        }
    }
    void reset() noexcept override {
        std::ranges::fill(held_, 0.0);
        oldest_ = 0;
    }

private:
    std::vector<double> held_;
    std::size_t oldest_ = 0;
};

class SeriesEngine final : public Engine {
public:
    explicit SeriesEngine(std::vector<Made> parts) : parts_(std::move(parts)) {}
    void process(std::span<double> block) noexcept override {
        for (const Made& part : parts_) {
            part->process(block);
        }
    }
    void reset() noexcept override {
        for (const Made& part : parts_) {
            part->reset();
        }
    }

private:
    std::vector<Made> parts_;
};

class SumEngine final : public Engine {
public:
    struct Branch {
        double factor;
        Made engine;
    };
    explicit SumEngine(std::vector<Branch> branches)
        : branches_(std::move(branches)), sum_(most_at_once), part_(most_at_once) {}

    void process(std::span<double> block) noexcept override {
        while (!block.empty()) {
            const std::size_t count = std::min(block.size(), most_at_once);
            process_some(block.first(count));
            block = block.subspan(count);
        }
    }
    void reset() noexcept override {
        for (const Branch& branch : branches_) {
            branch.engine->reset();
        }
    }

private:
    void process_some(std::span<double> block) noexcept {
        const std::span<double> part = std::span(part_).first(block.size());
        std::fill_n(sum_.begin(), block.size(), 0.0);
        for (const Branch& branch : branches_) {
            std::ranges::copy(block, part.begin());
            branch.engine->process(part);
            for (std::size_t n = 0; n < part.size(); ++n) {
                sum_[n] += branch.factor * part[n];
            }
        }
        std::copy_n(sum_.begin(), block.size(), block.begin());
    }

    static constexpr std::size_t most_at_once = 256;
    std::vector<Branch> branches_;
    std::vector<double> sum_, part_;
};

// One sample after the other.
class StepperEngine final : public Engine {
public:
    explicit StepperEngine(std::unique_ptr<Stepper> stepper) : stepper_(std::move(stepper)) {
        stepper_->rest();
    }
    void process(std::span<double> block) noexcept override {
        for (double& sample : block) {
            sample = stepper_->take(sample);
        }
    }
    void reset() noexcept override { stepper_->rest(); }

private:
    std::unique_ptr<Stepper> stepper_;
};

class ComputationEngine final : public Engine {
public:
    explicit ComputationEngine(std::unique_ptr<Computation> at_work)
        : at_work_(std::move(at_work)) {}
    void process(std::span<double> block) noexcept override { at_work_->process(block); }
    void reset() noexcept override { at_work_->reset(); }
    void go_to(std::size_t sample) noexcept override { at_work_->go_to(sample); }

private:
    std::unique_ptr<Computation> at_work_;
};

Made engine_for(const Filter& filter);

struct EngineOf {
    Made operator()(const Cascade& cascade) const {
        return std::make_unique<StaggeredSections>(cascade);
    }
    Made operator()(const AnalogCascade&) const { return std::make_unique<GainEngine>(0); }
    Made operator()(const Taps& taps) const {
        return taps.values().size() <= most_direct_taps
                   ? Made(std::make_unique<DirectFir>(taps.values()))
                   : std::make_unique<PartitionedFir>(taps.values());
    }
    Made operator()(const Delay& delay) const {
        return std::make_unique<DelayEngine>(delay.samples);
    }
    Made operator()(const Gain& gain) const { return std::make_unique<GainEngine>(gain.factor); }
    Made operator()(const Series& chain) const {
        std::vector<Made> parts;
        std::ranges::transform(chain.parts, std::back_inserter(parts), engine_for);
        return std::make_unique<SeriesEngine>(std::move(parts));
    }
    Made operator()(const ParallelSum& sum) const {
        std::vector<SumEngine::Branch> branches;
        for (const auto& branch : sum.branches) {
            branches.push_back({branch.factor, engine_for(branch.filter)});
        }
        return std::make_unique<SumEngine>(std::move(branches));
    }
    Made operator()(const Loop& loop) const {
        return std::make_unique<StepperEngine>(stepper_of(Filter(loop)));
    }
    Made operator()(const Oversampled& of) const {
        return std::make_unique<StepperEngine>(stepper_of(Filter(of)));
    }
    Made operator()(const Computed& computed) const {
        return std::make_unique<ComputationEngine>(computed.way->start());
    }
    Made operator()(const Repeated& repeated) const {
        Cascade all;
        std::vector<Made> parts;
        const auto* cascade = std::get_if<Cascade>(&repeated.filter.form());
        for (std::size_t i = 0; i < repeated.count; ++i) {
            if (cascade != nullptr) {
                all.sections.insert(all.sections.end(), cascade->sections.begin(),
                                    cascade->sections.end());
            } else {
                parts.push_back(engine_for(repeated.filter));
            }
        }
        return cascade != nullptr ? (*this)(all) : std::make_unique<SeriesEngine>(std::move(parts));
    }
};

Made engine_for(const Filter& filter) {
    return std::visit(EngineOf(), static_cast<const AnyForm::variant&>(filter.form()));
}

} // namespace

Expected<std::unique_ptr<Engine>> engine_of(const Filter& filter) {
    if (filter.is_analog()) {
        return refuse("", "an analog filter takes no samples", "map it into a sampled channel");
    }
    return engine_for(filter);
}

} // namespace syntonon
