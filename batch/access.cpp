// SPDX-License-Identifier: GPL-3.0-or-later
#include "batch/access.h"

#include "core/base/number_text.h"
#include "core/study/finish_designs.h"
#include "core/study/problems.h"
#include "core/study/words.h"

#include <cstdio>
#include <fmt/format.h>
#include <unistd.h>
#include <utility>

namespace syntonon::batch {
namespace {

template <class Items>
std::string known_ids(const Items& items) {
    std::string list;
    for (const auto& item : items) {
        list += (list.empty() ? "" : ", ") + item->id;
    }
    return list.empty() ? "the study has none" : "use one of: " + list;
}

DesignedChain designed(Opened& opened, const Channel& channel) {
    finish(opened, {{channel.id, {}}});
    return opened.cache.briefs().design(opened.study, channel);
}

} // namespace

std::string exact(double value) {
    constexpr int exact_digits = 17;
    return text_with_digits(value, exact_digits);
}

std::string cell(std::string_view text) {
    if (text.find_first_of(",\"\r\n") == std::string_view::npos) {
        return std::string(text);
    }
    std::string quoted = "\"";
    for (const char c : one_line(text)) {
        quoted += c == '"' ? std::string("\"\"") : std::string(1, c);
    }
    return quoted + "\"";
}

Expected<const Channel*> find_channel(const Study& study, const std::string& id) {
    if (const Channel* channel = channel_of(study, id)) {
        return channel;
    }
    return refuse("--channel", fmt::format("there is no channel “{}”", id),
                  known_ids(study.channels));
}

Expected<bool> done(const Expected<void>& written) {
    return written ? Expected<bool>(true) : tl::unexpected(written.error());
}

void finish(Opened& opened, const std::vector<ChannelView>& views) {
    const bool is_watched = isatty(STDERR_FILENO) != 0;
    bool wrote = false;
    const Progress show = [&](const DesignJob& job, double done) {
        fmt::print(stderr, "\r\033[K{} {:.0f} %", one_line(job.name), 100 * done);
        std::fflush(stderr);
        wrote = true;
    };
    finish_designs(opened.study, views, opened.cache.briefs(), is_watched ? show : Progress());
    if (wrote) {
        fmt::print(stderr, "\r\033[K");
    }
}

std::vector<ChannelView> all_channels(const Study& study) {
    std::vector<ChannelView> views;
    for (const auto& channel : study.channels) {
        views.push_back({channel->id, {}});
    }
    return views;
}

Expected<DesignedStage> design_stage(Opened& opened, const Channel& channel,
                                     const std::string& id) {
    DesignedChain chain = designed(opened, channel);
    const auto found = chain.stages.find(id);
    if (found == chain.stages.end()) {
        return refuse("--stage", fmt::format("channel {} has no stage “{}”", channel.id, id),
                      "see the stage ids in the study file");
    }
    if (!found->second.filter) {
        return tl::unexpected(
            within(place_of(opened.study, channel),
                   within(path_of(channel.stages, id), found->second.filter.error())));
    }
    return std::move(found->second);
}

Expected<std::optional<WordChain>> words_of(Opened& opened, const Channel& channel) {
    if (opened.as.empty()) {
        return std::nullopt;
    }
    const auto delivery = find_delivery(opened.study, opened.as);
    if (!delivery) {
        return tl::unexpected(delivery.error());
    }
    finish(opened, {{channel.id, {}}});
    auto words = syntonon::words_of(opened.study, **delivery, channel, opened.cache.briefs());
    if (!words) {
        return tl::unexpected(words.error());
    }
    if (words->is_out_of_date) {
        return refuse("channel " + channel.id,
                      "its searched words are of another design or of other words",
                      "search them again: syntonon-batch words STUDY --delivery ID --search --to "
                      "STUDY");
    }
    return std::optional(std::move(words->chain));
}

Expected<Filter> filter_of(Opened& opened, const Channel& channel, const std::string& stage) {
    if (!stage.empty() && !opened.as.empty()) {
        return refuse("--as", "a stage has no words of its own: they are the whole chain's",
                      "leave --stage or --as out");
    }
    if (!opened.as.empty()) {
        return words_of(opened, channel).map([](const std::optional<WordChain>& words) {
            return filter_of(*words);
        });
    }
    if (!stage.empty()) {
        return design_stage(opened, channel, stage).and_then([](const DesignedStage& one) {
            return one.filter;
        });
    }
    DesignedChain chain = designed(opened, channel);
    return chain.problems.empty()
               ? Expected<Filter>(std::move(chain.filter))
               : tl::unexpected(within(place_of(opened.study, channel), chain.problems.front()));
}

} // namespace syntonon::batch
