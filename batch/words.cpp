// SPDX-License-Identifier: GPL-3.0-or-later
// What processors make of a study: words, budgets, profiles.
#include "core/study/words.h"
#include "batch/access.h"
#include "core/base/number_text.h"
#include "core/engine/convolution_load.h"
#include "core/exchange/study_folder.h"
#include "core/study/channel_parts.h"
#include "core/study/delivery_budget.h"
#include "core/study/processor_json.h"
#include "core/word/word_facts.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <sstream>

namespace syntonon::batch {
namespace {

// Empty where there is none.
std::string cell_of(std::optional<double> value) {
    return value && std::isfinite(*value) ? exact(*value) : std::string();
}

// The loudest limit cycle in dB of full scale.
std::optional<double> loudest_cycle_db(const WordFacts& facts) {
    std::optional<double> loudest;
    for (const auto& cycle :
         facts.cycles ? facts.cycles->of_sections : std::vector<std::optional<LimitCycle>>()) {
        if (cycle && cycle->peak > 0) {
            loudest = std::max(loudest.value_or(-1e9), 20 * std::log10(cycle->peak));
        }
    }
    return loudest;
}

Expected<std::string> line_of_words(const Study& study, const Delivery& delivery,
                                    const Channel& channel, Briefs& briefs) {
    const auto parts = channel_parts(study, channel, briefs);
    if (!parts) {
        return tl::unexpected(parts.error());
    }
    const auto words = words_of(study, delivery, channel.id, *parts);
    if (!words) {
        return tl::unexpected(words.error());
    }
    const Filter wished = briefs.design(study, channel).filter;
    const auto facts = word_facts(words->chain, wished, study.sample_rate_hz);
    if (!facts) {
        return tl::unexpected(facts.error());
    }
    const NodeLevel* tight = tightest(facts->levels);
    return fmt::format(
        "{},{},{},{},{},{},{},{},{}\n", channel.id, named(structures(), words->chain.structure).key,
        text_of(words->chain.section_words.coefficient),
        words->is_out_of_date ? "nearest (searched: out of date)"
        : delivery.searched   ? "searched"
                              : "nearest",
        exact(facts->deviation.worst_db), exact(facts->deviation.worst_hz),
        cell_of(facts->noise ? std::optional(facts->noise->level_dbfs) : std::nullopt),
        cell_of(tight != nullptr ? std::optional(tight->room_for_tone_db()) : std::nullopt),
        cell_of(loudest_cycle_db(*facts)));
}

// Those of the delivery, or the one that is named.
Expected<std::vector<const Channel*>> chosen_channels(const Study& study, const Delivery& delivery,
                                                      const std::string& id) {
    if (id.empty()) {
        return channels_of(study, delivery);
    }
    return find_channel(study, id).map([](const Channel* channel) { return std::vector{channel}; });
}

} // namespace

Expected<const Delivery*> find_delivery(const Study& study, const std::string& id) {
    if (const Delivery* delivery = delivery_of(study, id)) {
        return delivery;
    }
    std::string ids;
    for (const Delivery& delivery : study.deliveries) {
        ids += (ids.empty() ? "use one of: " : ", ") + delivery.id;
    }
    return refuse("--delivery", fmt::format("there is no delivery “{}”", id),
                  ids.empty() ? "the study has none" : ids);
}

Expected<bool> words(Opened& opened, Output& out, const WordsCall& call) {
    const auto delivery = find_delivery(opened.study, call.delivery);
    if (!delivery) {
        return tl::unexpected(delivery.error());
    }
    finish(opened, all_channels(opened.study));
    const auto channels = chosen_channels(opened.study, **delivery, call.channel);
    if (!channels) {
        return tl::unexpected(channels.error());
    }
    Study changed = opened.study;
    Delivery& own = *std::ranges::find(changed.deliveries, call.delivery, &Delivery::id);
    Briefs& briefs = opened.cache.briefs();
    if (call.search) {
        own.searched = true;
        for (const Channel* channel : *channels) {
            auto found =
                word_search(changed, own, *channel, briefs).and_then([](const WordSearch& search) {
                    return run(search);
                });
            if (!found) {
                return tl::unexpected(found.error());
            }
            put_found(own, std::move(*found));
        }
    }
    std::string text = "channel,structure,word,rounding,worst_db,worst_hz,noise_dbfs,headroom_db,"
                       "limit_cycle_dbfs\n";
    for (const Channel* channel : *channels) {
        const auto line = line_of_words(changed, own, *channel, briefs);
        if (!line) {
            return tl::unexpected(line.error());
        }
        text += *line;
    }
    if (call.search) {
        if (auto saved = save_study_and_responses(changed, call.to); !saved) {
            return tl::unexpected(saved.error());
        }
    }
    return done(out.write(text));
}

Expected<bool> budget(Opened& opened, Output& out, const std::string& delivery_id) {
    const auto delivery = find_delivery(opened.study, delivery_id);
    if (!delivery) {
        return tl::unexpected(delivery.error());
    }
    finish(opened, all_channels(opened.study));
    const auto found = budget_of(opened.study, **delivery, opened.cache.briefs());
    if (!found) {
        return tl::unexpected(found.error());
    }
    std::string text = "what,used,available,share\n";
    for (const BudgetLine& line : found->lines) {
        text += fmt::format("{},{},{},{}\n", line.what, exact(line.used), cell_of(line.available),
                            line.available ? exact(line.share()) : std::string());
    }
    text += fmt::format("latency_samples,{},,\n", exact(found->latency_samples));
    auto written = out.write(text);
    return written ? Expected<bool>(found->fits()) : tl::unexpected(written.error());
}

Expected<bool> loads(Output& out, const LoadsCall& call) {
    const auto& [block_frames, sample_rate_hz, taps] = call;
    const auto frames = number_from_text(block_frames), rate = number_from_text(sample_rate_hz);
    if (!frames || !(*frames >= 1 && *frames <= 65536) || *frames != std::floor(*frames)) {
        return refuse("--block", fmt::format("“{}” is no number of frames", block_frames),
                      "give 1 to 65536");
    }
    if (!rate || !(*rate >= 1 && *rate <= 1e7)) {
        return refuse("--sample-rate", fmt::format("“{}” is no rate", sample_rate_hz),
                      "give one in Hz, as 48000");
    }
    const auto counts = taps.empty() ? Expected<std::vector<std::size_t>>(usual_tap_counts())
                                     : tap_counts_from(taps);
    if (!counts) {
        return tl::unexpected(within("--taps", counts.error()));
    }
    const auto found = measured_loads(*counts, static_cast<std::size_t>(*frames), *rate);
    if (!found) {
        return tl::unexpected(found.error());
    }
    std::string text = "taps,direct_share,block_share,direct_bytes,block_bytes\n";
    for (const ConvolutionLoad& load : *found) {
        text += fmt::format("{},{:.6g},{:.6g},{},{}\n", load.taps, load.direct, load.block,
                            load.direct_bytes, load.block_bytes);
    }
    return done(out.write(text));
}

Expected<bool> processors(Output& out, const std::filesystem::path& folder) {
    std::string text = "id,name,words,structures\n";
    for (const Processor& processor : shipped_processors()) {
        std::string names;
        for (const StructureCycles& each : processor.structures) {
            names +=
                (names.empty() ? "" : " ") + std::string(named(structures(), each.structure).key);
        }
        text += fmt::format("{},{},{},{}\n", processor.id, processor.name,
                            text_of(processor.section_words.coefficient), names);
        if (!folder.empty()) {
            std::error_code error;
            std::filesystem::create_directories(folder, error);
            const auto path = folder / (processor.id + std::string(processor_file_ending));
            if (auto saved = save_processor(processor, path); !saved) {
                return tl::unexpected(saved.error());
            }
        }
    }
    return done(out.write(text));
}

} // namespace syntonon::batch
