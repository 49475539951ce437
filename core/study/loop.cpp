// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/loop.h"

#include "core/filter/loop.h"
#include "core/study/kinds.h"

#include <array>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr double most_feedback = 1e6;

constexpr std::array loop_fields = std::to_array<NumberField<LoopSpec>>({
    {"feedback.factor", "Feedback", "×", Dimension::plain, -most_feedback, most_feedback,
     FieldSteps::by_tenth, [](const LoopSpec& s) { return std::optional(s.feedback.factor); },
     [](LoopSpec& s, double v) { s.feedback.factor = v; }},
});

Working working_of_loop(const Loop& loop) {
    const double at_once = gain_at_once(loop);
    const std::vector<WorkingNumber> shown{
        {"k", "factor of the return", loop.factor, ""},
        {"f0 k r0", "round the loop at once", at_once, ""},
        {"delay", "round the loop, until the first answer",
         loop.forward.latency_samples() + loop.feedback.latency_samples(), "samples"},
        {"sections", "",
         static_cast<double>(loop.forward.cost().sections + loop.feedback.cost().sections), ""}};
    return {at_once == 0 ? "H = F / (1 − k F R)"
                         : "H = F / (1 − k F R); without delay, solved for the output",
            {{"Loop", shown}}};
}

std::string note_of_loop(const Loop& loop) {
    return loop.factor == 0          ? "factor 0: nothing comes back"
           : gain_at_once(loop) != 0 ? "without delay: solved as an equation"
                                     : "";
}

} // namespace

bool FeedbackPath::operator==(const FeedbackPath& other) const = default;
bool LoopSpec::operator==(const LoopSpec& other) const = default;

std::vector<const Chain*> chains_of(const LoopSpec& spec) {
    return {&spec.forward, &spec.feedback.stages};
}

std::vector<Chain*> chains_of(LoopSpec& spec) {
    return {&spec.forward, &spec.feedback.stages};
}

Expected<Design> compose(const LoopSpec& spec, std::span<const Filter> chains) {
    if (auto ok = check_fields(spec); !ok) {
        return tl::unexpected(ok.error());
    }
    const Loop loop{chains[0], spec.feedback.factor, chains[1]};
    const auto closed = closed_loop(loop);
    if (!closed) {
        return tl::unexpected(closed.error());
    }
    return Design{*closed, [loop] { return working_of_loop(loop); }, note_of_loop(loop)};
}

std::string place_of_chain(const LoopSpec&, std::size_t k) {
    return k == 0 ? "forward" : "feedback.stages";
}

std::string label_of_chain(const LoopSpec& spec, std::size_t k) {
    return k == 0 ? "forward" : "back × " + short_number(spec.feedback.factor);
}

std::span<const NumberField<LoopSpec>> fields_of(const LoopSpec&) {
    return loop_fields;
}

std::string title_of(const LoopSpec&) {
    return "Loop";
}

std::string summary_of(const LoopSpec& spec) {
    return "back × " + short_number(spec.feedback.factor);
}

std::string spoken_name_of(const LoopSpec& spec) {
    return "Loop × " + short_number(spec.feedback.factor);
}

} // namespace syntonon
