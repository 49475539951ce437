// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/stepper.h"

#include "core/filter/form.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

using Steppers = std::vector<std::unique_ptr<Stepper>>;

class GainStepper : public Stepper {
public:
    explicit GainStepper(double factor) : factor_(factor) {}

    double at_once() const override { return factor_; }
    double held() const override { return 0; }
    double take(double input) override { return factor_ * input; }
    void rest() override {}
    void add_lines(std::size_t, std::vector<DelayLine>&) const override {}

private:
    double factor_;
};

// Direct form II transposed.
class CascadeStepper : public Stepper {
public:
    CascadeStepper(const Cascade& cascade, std::size_t count) {
        for (std::size_t i = 0; i < count; ++i) {
            for (const Biquad& section : cascade.sections) {
                sections_.push_back({section, 0, 0});
                at_once_ *= section.b0;
            }
        }
    }

    double at_once() const override { return at_once_; }
    double held() const override {
        double x = 0;
        for (const Section& s : sections_) {
            x = s.c.b0 * x + s.first;
        }
        return x;
    }
    double take(double input) override {
        constexpr double died_away = 1e-100; // smaller numbers would make the processor slow
        double x = input;
        for (Section& s : sections_) {
            const double y = s.c.b0 * x + s.first;
            s.first = s.c.b1 * x - s.c.a1 * y + s.second;
            s.second = s.c.b2 * x - s.c.a2 * y;
            if (std::abs(s.first) < died_away && std::abs(s.second) < died_away) {
                s.first = s.second = 0;
            }
            x = y;
        }
        return x;
    }
    void rest() override {
        for (Section& s : sections_) {
            s.first = s.second = 0;
        }
    }
    void add_lines(std::size_t, std::vector<DelayLine>&) const override {}

private:
    struct Section {
        Biquad c;
        double first, second;
    };
    std::vector<Section> sections_;
    double at_once_ = 1;
};

// A ring that is as long as the samples that have come in, until it has its length.
class Ring {
public:
    explicit Ring(std::size_t length) : length_(length) {}

    // The sample before last is back(2); 0 before the first.
    double back(std::size_t samples) const {
        return samples > held_.size() ? 0 : held_[(next_ + held_.size() - samples) % held_.size()];
    }
    std::size_t count() const { return held_.size(); } // that have come in, at most the length
    void push(double sample) {
        if (held_.size() < length_) {
            held_.push_back(sample);
        } else if (length_ > 0) {
            held_[next_] = sample;
            next_ = (next_ + 1) % length_;
        }
    }
    void rest() {
        held_.reserve(length_);
        held_.clear();
        next_ = 0;
    }
    DelayLine line(std::string name, std::size_t most_taps) const {
        DelayLine line{std::move(name), length_, {}};
        for (std::size_t k = 1; k <= std::min(held_.size(), most_taps); ++k) {
            line.taps.push_back(back(k));
        }
        return line;
    }

private:
    std::size_t length_;
    std::vector<double> held_;
    std::size_t next_ = 0; // where the oldest is, once full
};

class DelayStepper : public Stepper {
public:
    explicit DelayStepper(std::size_t samples) : samples_(samples), ring_(samples) {}

    double at_once() const override { return samples_ == 0 ? 1 : 0; }
    double held() const override { return samples_ == 0 ? 0 : ring_.back(samples_); }
    double take(double input) override {
        const double output = samples_ == 0 ? input : ring_.back(samples_);
        ring_.push(input);
        return output;
    }
    void rest() override { ring_.rest(); }
    void add_lines(std::size_t most_taps, std::vector<DelayLine>& out) const override {
        out.push_back(ring_.line(
            fmt::format("delay of {} sample{}", samples_, samples_ == 1 ? "" : "s"), most_taps));
    }

private:
    std::size_t samples_;
    Ring ring_;
};

class TapsStepper : public Stepper {
public:
    explicit TapsStepper(const Taps& taps) : taps_(taps), ring_(taps.values().size() - 1) {}

    double at_once() const override { return taps_.values().front(); }
    double held() const override {
        double sum = 0;
        for (std::size_t k = 1; k <= ring_.count(); ++k) {
            sum += taps_.values()[k] * ring_.back(k);
        }
        return sum;
    }
    double take(double input) override {
        const double output = at_once() * input + held();
        ring_.push(input);
        return output;
    }
    void rest() override { ring_.rest(); }
    void add_lines(std::size_t most_taps, std::vector<DelayLine>& out) const override {
        out.push_back(ring_.line(fmt::format("FIR of {} taps", taps_.values().size()), most_taps));
    }

private:
    Taps taps_;
    Ring ring_;
};

class SeriesStepper : public Stepper {
public:
    explicit SeriesStepper(Steppers parts) : parts_(std::move(parts)) {
        for (const auto& part : parts_) {
            at_once_ *= part->at_once();
        }
    }

    double at_once() const override { return at_once_; }
    double held() const override {
        double x = 0;
        for (const auto& part : parts_) {
            x = part->at_once() * x + part->held();
        }
        return x;
    }
    double take(double input) override {
        double x = input;
        for (const auto& part : parts_) {
            x = part->take(x);
        }
        return x;
    }
    void rest() override {
        for (const auto& part : parts_) {
            part->rest();
        }
    }
    void add_lines(std::size_t most_taps, std::vector<DelayLine>& out) const override {
        for (const auto& part : parts_) {
            part->add_lines(most_taps, out);
        }
    }

private:
    Steppers parts_;
    double at_once_ = 1;
};

class SumStepper : public Stepper {
public:
    explicit SumStepper(const ParallelSum& sum) {
        for (const auto& branch : sum.branches) {
            branches_.emplace_back(branch.factor, stepper_of(branch.filter));
            at_once_ += branch.factor * branches_.back().second->at_once();
        }
    }

    double at_once() const override { return at_once_; }
    double held() const override {
        double sum = 0;
        for (const auto& [factor, branch] : branches_) {
            sum += factor * branch->held();
        }
        return sum;
    }
    double take(double input) override {
        double sum = 0;
        for (const auto& [factor, branch] : branches_) {
            sum += factor * branch->take(input);
        }
        return sum;
    }
    void rest() override {
        for (const auto& [factor, branch] : branches_) {
            branch->rest();
        }
    }
    void add_lines(std::size_t most_taps, std::vector<DelayLine>& out) const override {
        for (const auto& [factor, branch] : branches_) {
            branch->add_lines(most_taps, out);
        }
    }

private:
    std::vector<std::pair<double, std::unique_ptr<Stepper>>> branches_;
    double at_once_ = 0;
};

// With u what goes into the forward filter and F, R at once, f, r held:
// u = x + k (R (F u + f) + r).
class LoopStepper : public Stepper {
public:
    explicit LoopStepper(const Loop& loop)
        : forward_(stepper_of(loop.forward)), feedback_(stepper_of(loop.feedback)),
          factor_(loop.factor),
          left_(1 - loop.factor * forward_->at_once() * feedback_->at_once()) {}

    double at_once() const override { return forward_->at_once() / left_; }
    double held() const override {
        return forward_->at_once() * into_forward(0) + forward_->held();
    }
    double take(double input) override {
        const double output = forward_->take(into_forward(input));
        feedback_->take(output);
        return output;
    }
    void rest() override {
        forward_->rest();
        feedback_->rest();
    }
    void add_lines(std::size_t most_taps, std::vector<DelayLine>& out) const override {
        forward_->add_lines(most_taps, out);
        feedback_->add_lines(most_taps, out);
    }

private:
    double into_forward(double input) const {
        const double through = feedback_->at_once();
        const double past = (through != 0 ? through * forward_->held() : 0) + feedback_->held();
        return (input + factor_ * past) / left_;
    }

    std::unique_ptr<Stepper> forward_, feedback_;
    double factor_, left_;
};

class OversampledStepper : public Stepper {
public:
    explicit OversampledStepper(const Oversampled& of) : at_work_(of) {}

    double at_once() const override { return at_work_.at_once(); }
    double held() const override { return at_work_.held(); }
    double take(double input) override { return at_work_.take(input); }
    void rest() override { at_work_.rest(); }
    void add_lines(std::size_t, std::vector<DelayLine>&) const override {}

private:
    OversampledRun at_work_;
};

struct StepperOf {
    using Made = std::unique_ptr<Stepper>;
    Made operator()(const Cascade& cascade) const {
        return std::make_unique<CascadeStepper>(cascade, 1);
    }
    Made operator()(const AnalogCascade&) const { return std::make_unique<GainStepper>(0); }
    Made operator()(const Taps& taps) const {
        return taps.values().empty() ? Made(std::make_unique<GainStepper>(0))
                                     : std::make_unique<TapsStepper>(taps);
    }
    Made operator()(const Delay& delay) const {
        return std::make_unique<DelayStepper>(delay.samples);
    }
    Made operator()(const Gain& gain) const { return std::make_unique<GainStepper>(gain.factor); }
    Made operator()(const Series& chain) const {
        Steppers parts;
        for (const Filter& part : chain.parts) {
            parts.push_back(stepper_of(part));
        }
        return std::make_unique<SeriesStepper>(std::move(parts));
    }
    Made operator()(const ParallelSum& sum) const { return std::make_unique<SumStepper>(sum); }
    Made operator()(const Loop& loop) const { return std::make_unique<LoopStepper>(loop); }
    Made operator()(const Oversampled& of) const {
        return std::make_unique<OversampledStepper>(of);
    }
    // Within a loop a sample's own share has to be known, which only the linear one says.
    Made operator()(const Computed& computed) const { return stepper_of(computed.linear); }
    Made operator()(const Repeated& repeated) const {
        if (const auto* cascade = std::get_if<Cascade>(&repeated.filter.form())) {
            return std::make_unique<CascadeStepper>(*cascade, repeated.count);
        }
        Steppers parts;
        for (std::size_t i = 0; i < repeated.count; ++i) {
            parts.push_back(stepper_of(repeated.filter));
        }
        return std::make_unique<SeriesStepper>(std::move(parts));
    }
};

} // namespace

std::unique_ptr<Stepper> stepper_of(const Filter& filter) {
    return std::visit(StepperOf(), static_cast<const AnyForm::variant&>(filter.form()));
}

} // namespace syntonon
