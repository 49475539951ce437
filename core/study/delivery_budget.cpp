// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/delivery_budget.h"

#include "core/study/channel_parts.h"
#include "core/word/section_arrangement.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon {

std::vector<const Processor*> processors_of(const Study& study) {
    std::vector<const Processor*> all;
    for (const auto& own : study.processors) {
        all.push_back(&*own);
    }
    for (const Processor& shipped : shipped_processors()) {
        if (processor_of(study, shipped.id) == &shipped) {
            all.push_back(&shipped);
        }
    }
    return all;
}

std::vector<const Channel*> channels_of(const Study& study, const Delivery& delivery) {
    std::vector<const Channel*> channels;
    for (const auto& channel : study.channels) {
        const bool is_named =
            std::ranges::find(delivery.channels, channel->id) != delivery.channels.end();
        if (delivery.channels.empty() ? channel->domain == Domain::sampled : is_named) {
            channels.push_back(&*channel);
        }
    }
    return channels;
}

int block_frames_of(const Delivery& delivery, const Processor& processor) {
    return delivery.block_frames > 0 ? delivery.block_frames : processor.block_frames.front();
}

Expected<Budget> budget_of(const Study& study, const Delivery& delivery, Briefs& briefs) {
    const Processor* processor = processor_of(study, delivery.processor);
    if (processor == nullptr) {
        return refuse(fmt::format("delivery {}", delivery.id), "is for no processor that is there",
                      "choose a processor for it");
    }
    std::vector<ChannelDemand> demands;
    for (const Channel* channel : channels_of(study, delivery)) {
        const auto parts = channel_parts(study, *channel, briefs);
        if (!parts) {
            return tl::unexpected(parts.error());
        }
        // Searched words make a bare gain part of another section.
        const std::size_t sections = delivery.searched && !parts->cascade.sections.empty()
                                         ? without_bare_gains(parts->cascade).sections.size()
                                         : parts->cascade.sections.size();
        const double of_taps =
            parts->taps.empty() ? 0 : static_cast<double>(Taps(parts->taps).main_sample());
        const double latency = Filter(parts->cascade).latency_samples() + of_taps
                               + static_cast<double>(parts->delay_samples);
        demands.push_back({channel->id, sections, parts->taps.size(), parts->delay_samples, latency,
                           delivery.structure});
    }
    return budget_of(demands, *processor, study.sample_rate_hz,
                     block_frames_of(delivery, *processor));
}

} // namespace syntonon
