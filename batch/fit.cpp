// SPDX-License-Identifier: GPL-3.0-or-later
#include "batch/access.h"
#include "core/exchange/study_folder.h"
#include "core/study/fit_stages.h"

#include <fmt/format.h>

namespace syntonon::batch {
namespace {

// Empty where it is not minded.
std::string timing_columns(const FitFigures& figures) {
    if (!figures.timing) {
        return ",,";
    }
    const auto& [before, after] = *figures.timing;
    return fmt::format("{},{},{}", exact(before.rms), exact(after.rms),
                       after.by_delay ? "ms" : "deg");
}

Expected<std::string> lines_of(const Study& study, const Channel& channel, Briefs& briefs) {
    std::string lines;
    for (const std::string& id : stages_to_fit(channel)) {
        const auto figures = briefs.fit_brief(study, channel, id).and_then([&](const Brief& brief) {
            return figures_of_fit(stage_of(channel, id)->spec, brief);
        });
        if (!figures) {
            return tl::unexpected(figures.error());
        }
        const auto& [before, after] = figures->together;
        lines += fmt::format("{},{},{},{},{},{},{},{}\n", channel.id, id, figures->found,
                             exact(before.rms_db), exact(after.rms_db), exact(after.worst_db),
                             exact(after.worst_hz), timing_columns(*figures));
    }
    return lines;
}

} // namespace

Expected<bool> fit(Opened& opened, Output& out, const std::string& channel_id,
                   const std::filesystem::path& to) {
    std::vector<std::string> channels;
    if (channel_id.empty()) {
        for (const auto& channel : opened.study.channels) {
            channels.push_back(channel->id);
        }
    } else if (const auto found = find_channel(opened.study, channel_id); !found) {
        return tl::unexpected(found.error());
    } else {
        channels.push_back(channel_id);
    }
    Briefs& briefs = opened.cache.briefs();
    auto fitted = fitted_anew(opened.study, places_to_fit(opened.study, channels), briefs);
    if (!fitted) {
        return tl::unexpected(fitted.error());
    }
    std::string text = "channel,stage,found,rms_before_db,rms_after_db,worst_after_db,worst_hz,"
                       "timing_rms_before,timing_rms_after,timing_unit\n";
    for (const std::string& id : channels) {
        const auto lines = lines_of(*fitted, *channel_of(*fitted, id), briefs);
        if (!lines) {
            return tl::unexpected(lines.error());
        }
        text += *lines;
    }
    if (auto saved = save_study_and_responses(*fitted, to); !saved) {
        return tl::unexpected(saved.error());
    }
    return done(out.write(text));
}

} // namespace syntonon::batch
