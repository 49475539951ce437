// SPDX-License-Identifier: GPL-3.0-or-later
#include "batch/commands.h"

#include "batch/access.h"
#include "core/base/json.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/exchange/analog_filter.h"
#include "core/exchange/deliver.h"
#include "core/exchange/delivered_files.h"
#include "core/exchange/study_folder.h"
#include "core/study/analysis.h"
#include "core/study/problems.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <fmt/format.h>

namespace syntonon::batch {

Expected<Opened> open_study(const std::filesystem::path& path) {
    auto read = syntonon::open_study(path);
    if (!read) {
        return tl::unexpected(read.error());
    }
    for (const std::string& warning : read->warnings) {
        fmt::print(stderr, "{}\n", one_line(path.string() + ": " + warning));
    }
    return Opened{path.string(), std::move(read->study)};
}

Expected<bool> check(Opened& opened, Output& out) {
    const Study& study = opened.study;
    std::vector<ChannelView> views = all_channels(study);
    for (const auto& channel : study.channels) {
        for (const auto& take : channel->takes) {
            views.push_back({channel->id, {take->id}});
        }
    }
    finish(opened, views);
    auto problems = problems_of(study, opened.cache.briefs());
    std::ranges::move(problems_of_files(study), std::back_inserter(problems));
    if (!problems.empty()) {
        // The caller prints the last; the others go before it.
        for (std::size_t i = 0; i + 1 < problems.size(); ++i) {
            fmt::print(stderr, "{}\n", to_text(in_file(opened.path, problems[i])));
        }
        return tl::unexpected(problems.back());
    }
    std::size_t stages = 0;
    for (const auto& channel : study.channels) {
        visit_stages(channel->stages, [&](const Stage&, const Slot&, int) { ++stages; });
    }
    return done(out.write(fmt::format(
        "{}: {} Hz, {} curves, {} goals, {} channels, {} stages, {} deliveries: in order\n",
        one_line(study.name), study.sample_rate_hz, study.curves.size(), study.goals.size(),
        study.channels.size(), stages, study.deliveries.size())));
}

Expected<bool> roots(Opened& opened, Output& out, const std::string& channel_id) {
    const auto channel = find_channel(opened.study, channel_id);
    if (!channel) {
        return tl::unexpected(channel.error());
    }
    const auto chain = filter_of(opened, **channel, "");
    if (!chain) {
        return tl::unexpected(chain.error());
    }
    std::string text = "type,re,im,radius,frequency_hz\n";
    const auto add = [&](const char* type, const std::vector<std::complex<double>>& list) {
        for (const auto& root : list) {
            text += fmt::format(
                "{},{},{},{},{}\n", type, exact(root.real()), exact(root.imag()),
                exact(std::abs(root)),
                exact((*channel)->domain == Domain::analog
                          ? hz_from_rad_per_s(std::copysign(std::abs(root), root.imag()))
                          : hz_from_rad_per_sample(std::arg(root), opened.study.sample_rate_hz)));
        }
    };
    const auto& roots = chain->roots();
    if (!roots) {
        return tl::unexpected(within("channel " + channel_id, roots.error()));
    }
    add("zero", roots->zeros);
    add("pole", roots->poles);
    const double well_known = 1e-8 * (roots->domain == Domain::analog ? analog_unit_rad_per_s : 1);
    if (roots->uncertainty > well_known) {
        fmt::print(stderr,
                   "channel {}: roots lie so close together that they are known to {:.1g} only\n",
                   one_line(channel_id), roots->uncertainty);
    }
    return done(out.write(text));
}

namespace {

Expected<bool> analog_coefficients(Opened& opened, Output& out, const Channel& channel,
                                   const std::string& layout) {
    constexpr std::array formats = std::to_array<std::pair<std::string_view, AnalogFormat>>(
        {{"table", AnalogFormat::csv}, {"json", AnalogFormat::json}, {"text", AnalogFormat::text}});
    const auto format = std::ranges::find(formats, layout, [](const auto& f) { return f.first; });
    if (format == formats.end()) {
        return refuse("--layout",
                      fmt::format("there is no layout “{}” for an analog channel", layout),
                      "use table, json or text");
    }
    finish(opened, {{channel.id, {}}});
    const auto filter = analog_filter_of(opened.study, channel, opened.cache.briefs());
    if (!filter) {
        return tl::unexpected(filter.error());
    }
    return done(out.write(analog_text(*filter, format->second)));
}

} // namespace

Expected<bool> coefficients(Opened& opened, Output& out, const std::string& channel_id,
                            const std::string& layout) {
    const auto channel = find_channel(opened.study, channel_id);
    if (!channel) {
        return tl::unexpected(channel.error());
    }
    if ((*channel)->domain == Domain::analog) {
        return analog_coefficients(opened, out, **channel, layout);
    }
    std::vector<Delivery> known = opened.study.deliveries;
    known.insert(known.end(), standard_deliveries().begin(), standard_deliveries().end());
    const auto chosen = std::ranges::find_if(
        known, [&](const Delivery& d) { return d.id == layout || d.name == layout; });
    if (chosen == known.end()) {
        std::string names;
        for (const Delivery& delivery : known) {
            names += (names.empty() ? "" : ", ") + delivery.id;
        }
        return refuse("--layout", fmt::format("there is no layout “{}”", layout),
                      "use one of: " + names);
    }
    finish(opened, {{channel_id, {}}});
    if (is_of_stages(chosen->layout.format)) {
        const auto texts = texts_of_stages(opened.study, **channel, *chosen, opened.cache.briefs());
        return texts ? done(out.write(texts->front().text)) : tl::unexpected(texts.error());
    }
    const auto delivered =
        delivered_channel(opened.study, *chosen, **channel, opened.cache.briefs());
    if (!delivered) {
        return tl::unexpected(delivered.error());
    }
    auto texts = delivered_texts(*delivered, *chosen, source_name(delivered->set));
    if (!texts) {
        return tl::unexpected(texts.error());
    }
    return done(out.write(texts->front().text));
}

Expected<bool> judge(Opened& opened, Output& out, const std::string& channel_id,
                     JudgeFormat format) {
    if (!channel_id.empty()) {
        if (const auto channel = find_channel(opened.study, channel_id); !channel) {
            return tl::unexpected(channel.error());
        }
    }
    const Study& study = opened.study;
    if (!opened.as.empty()) {
        if (const auto delivery = find_delivery(study, opened.as); !delivery) {
            return tl::unexpected(delivery.error());
        }
        finish(opened, all_channels(study));
    }
    bool is_all_met = true;
    std::vector<ChannelVerdict> verdicts;
    for (const auto& channel : study.channels) {
        if (channel_id.empty() || channel->id == channel_id) {
            finish(opened, {{channel->id, {}}});
            const View view{{}, opened.as};
            verdicts.push_back({&*channel, opened.cache.analyse(study, *channel, view)->verdict});
            is_all_met = is_all_met && is_met(verdicts.back().verdict);
        }
    }
    return out.write(judge_output(study, verdicts, format)).map([&] { return is_all_met; });
}

namespace {

Json number_json(const WorkingNumber& number) {
    Json entry;
    entry.set("symbol", number.symbol)
        .set("meaning", number.meaning)
        .set("value", number.value)
        .set("unit", number.unit);
    return entry;
}

Json step_json(const WorkingStep& step) {
    Json entry;
    entry.set("title", step.title).set("numbers", list_json(step.numbers, number_json));
    return entry;
}

} // namespace

Expected<bool> working(Opened& opened, Output& out, const std::string& channel_id,
                       const std::string& stage_id) {
    const auto channel = find_channel(opened.study, channel_id);
    if (!channel) {
        return tl::unexpected(channel.error());
    }
    const auto designed = design_stage(opened, **channel, stage_id);
    if (!designed) {
        return tl::unexpected(designed.error());
    }
    const Stage* stage = stage_of(**channel, stage_id);
    const Working shown = designed->working();
    Json object;
    object.set("channel", channel_id)
        .set("stage", stage_id)
        .set("title", title_of(*stage))
        .set("method", shown.method)
        .set("steps", list_json(shown.steps, step_json));
    return done(out.write(object.text() + "\n"));
}

Expected<bool> deliver(Opened& opened, Output& out, const std::filesystem::path& folder,
                       bool replace) {
    if (opened.study.deliveries.empty()) {
        return refuse("deliveries", "the study has none",
                      "add one to the study, or use the coefficients command");
    }
    finish(opened, all_channels(opened.study));
    // Everything is planned before anything is written.
    std::vector<PlannedFile> files;
    for (std::size_t i = 0; i < opened.study.deliveries.size(); ++i) {
        auto planned =
            plan_delivery(opened.study, opened.study.deliveries[i], folder, opened.cache.briefs());
        if (!planned) {
            return tl::unexpected(within(fmt::format("deliveries[{}]", i), planned.error()));
        }
        std::ranges::move(*planned, std::back_inserter(files));
    }
    const auto delivered = write_delivery(files, replace ? Existing::replace : Existing::refuse);
    if (!delivered) {
        return tl::unexpected(delivered.error());
    }
    std::string text = "file,greatest_coefficient_deviation,greatest_level_deviation_db\n";
    for (const DeliveredFile& file : *delivered) {
        const Deviation deviation = file.deviation.value_or(Deviation{}); // of memories, none
        text += fmt::format("{},{:.3g},{:.3g}\n", file.path.string(),
                            deviation.greatest_coefficient, deviation.greatest_db);
    }
    return done(out.write(text));
}

} // namespace syntonon::batch
