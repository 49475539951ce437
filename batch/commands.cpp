// SPDX-License-Identifier: GPL-3.0-or-later
#include "batch/commands.h"

#include "core/base/json.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/exchange/analog_filter.h"
#include "core/exchange/deliver.h"
#include "core/filter/analog_time.h"
#include "core/filter/grid.h"
#include "core/study/analysis.h"
#include "core/study/finish_designs.h"
#include "core/study/problems.h"
#include "core/study/study_json.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <fmt/format.h>
#include <unistd.h>

namespace syntonon::batch {
namespace {

constexpr int exact_digits = 17;
constexpr double most_points = 10'000'000;

std::string exact(double value) {
    return text_with_digits(value, exact_digits);
}

template <class Items>
std::string known_ids(const Items& items) {
    std::string list;
    for (const auto& item : items) {
        list += (list.empty() ? "" : ", ") + item->id;
    }
    return list.empty() ? "the study has none" : "use one of: " + list;
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

// Writes its titles before the first rows.
class TitledOutput : public Output {
public:
    TitledOutput(Output& out, std::string titles) : out_(out), titles_(std::move(titles)) {}
    Expected<void> write(std::string_view text) override {
        auto written = out_.write(titles_ + std::string(text));
        titles_.clear();
        return written;
    }

private:
    Output& out_;
    std::string titles_;
};

// Makes what takes long; what is quick is made when it is asked for.
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

DesignedChain designed(Opened& opened, const Channel& channel) {
    finish(opened, {{channel.id, {}}});
    return opened.cache.briefs().design(opened.study, channel);
}

// One stage, which may be switched off.
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

// The whole chain, or the one stage.
Expected<Filter> filter_of(Opened& opened, const Channel& channel, const std::string& stage) {
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

Expected<EvenSpacing> parse_span(const std::string& option, const std::string& text) {
    std::vector<double> parts;
    for (std::size_t start = 0; start <= text.size();) {
        const auto end = std::min(text.find(':', start), text.size());
        const auto number = number_from_text(text.substr(start, end - start));
        if (!number) {
            parts.clear();
            break;
        }
        parts.push_back(*number);
        start = end + 1;
    }
    if (parts.size() != 3 || !(parts[2] >= 2 && parts[2] <= most_points)
        || parts[2] != std::floor(parts[2])) {
        return refuse(option, fmt::format("“{}” is not LO:HI:COUNT", text),
                      "write for example 20:20000:600");
    }
    const EvenSpacing span{option == "--log", parts[0], parts[1],
                           static_cast<std::size_t>(parts[2])};
    if (!span.is_possible()) {
        return refuse(option, fmt::format("{} Hz to {} Hz is not a range", parts[0], parts[1]),
                      "give a lower and a higher frequency");
    }
    return span;
}

// A frequency and how the call writes it.
struct NamedFrequency {
    double hz;
    std::string text;
};

Expected<std::vector<NamedFrequency>> parse_list(const std::string& text) {
    std::vector<NamedFrequency> list;
    for (std::size_t start = 0; start <= text.size();) {
        const auto end = std::min(text.find(',', start), text.size());
        const std::string word(trimmed(text.substr(start, end - start)));
        const auto number = number_from_text(word);
        if (!number) {
            return refuse("--at",
                          word.empty() ? "an entry is empty"
                                       : fmt::format("“{}” is not a number", word),
                          "write frequencies in Hz: 63,870,12000");
        }
        list.push_back({*number, word});
        start = end + 1;
    }
    std::ranges::stable_sort(list, {}, &NamedFrequency::hz);
    const auto same = [](const NamedFrequency& a, const NamedFrequency& b) { return a.hz == b.hz; };
    list.erase(std::unique(list.begin(), list.end(), same), list.end());
    return list;
}

// An empty cell where a quantity does not exist: no NaN leaves the program.
std::string cell(double value) {
    return std::isnan(value) ? std::string() : exact(value);
}

} // namespace

Expected<Opened> open_study(const std::filesystem::path& path) {
    auto read = load_study(path);
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
    std::ranges::move(file_name_clashes(study), std::back_inserter(problems));
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

namespace {

// One row a frequency; `name(i)` is how the frequency is written.
template <class Name>
Expected<void> write_rows(Output& out, const Filter& chain, const FrequencyGrid& grid, Name name) {
    const Response total = chain.response(grid);
    std::string text;
    for (std::size_t i = 0; i < grid.size(); ++i) {
        fmt::format_to(
            std::back_inserter(text), "{},{},{},{}\n", name(i), cell(total.magnitude_db[i]),
            cell(wrapped_deg(deg_from_rad(total.phase_rad[i]))),
            cell(seconds_from_samples(total.group_delay_samples[i], grid.sample_rate_hz())));
    }
    return out.write(text);
}

Expected<void> respond_at(Output& out, const Filter& chain, const std::string& list,
                          const Axis& axis) {
    const auto named = parse_list(list);
    if (!named) {
        return tl::unexpected(named.error());
    }
    std::vector<double> hz;
    std::ranges::transform(*named, std::back_inserter(hz), &NamedFrequency::hz);
    const auto grid = FrequencyGrid::from_frequencies(hz, axis);
    if (!grid) {
        return tl::unexpected(within("--at", grid.error()));
    }
    return write_rows(out, chain, *grid, [&](std::size_t i) { return (*named)[i].text; });
}

Expected<void> respond_over(Output& out, const Filter& chain, const EvenSpacing& span,
                            const Axis& axis) {
    // Before the first row goes out: a refused call says nothing on standard output.
    const char* option = span.is_logarithmic ? "--log" : "--linear";
    if (auto ends = FrequencyGrid::from_frequencies({span.low_hz, span.high_hz}, axis); !ends) {
        return tl::unexpected(within(option, ends.error()));
    }
    constexpr std::size_t rows_at_once = 16'384;
    for (std::size_t first = 0; first < span.count; first += rows_at_once) {
        std::vector<double> hz;
        for (std::size_t i = first; i < std::min(span.count, first + rows_at_once); ++i) {
            hz.push_back(span.at(i));
        }
        const auto grid = FrequencyGrid::from_frequencies(hz, axis);
        if (!grid) {
            return tl::unexpected(within(option, grid.error()));
        }
        const auto exact_hz = [&](std::size_t i) { return exact(grid->frequency_hz()[i]); };
        if (auto written = write_rows(out, chain, *grid, exact_hz); !written) {
            return written;
        }
    }
    return {};
}

Expected<void> check_one_way(const Frequencies& frequencies) {
    const int given = (frequencies.at ? 1 : 0) + (frequencies.logarithmic.empty() ? 0 : 1)
                      + (frequencies.linear.empty() ? 0 : 1);
    if (given != 1) {
        return refuse("frequencies", given == 0 ? "none given" : "given in more than one way",
                      "use one of --at, --log and --linear");
    }
    return {};
}

} // namespace

Expected<bool> respond(Opened& opened, Output& out, const std::string& channel_id,
                       const std::string& stage, const Frequencies& frequencies) {
    const auto channel = find_channel(opened.study, channel_id);
    if (!channel) {
        return tl::unexpected(channel.error());
    }
    if (auto ok = check_one_way(frequencies); !ok) {
        return tl::unexpected(ok.error());
    }
    const bool is_logarithmic = !frequencies.logarithmic.empty();
    const auto span = frequencies.at   ? Expected<EvenSpacing>(EvenSpacing{})
                      : is_logarithmic ? parse_span("--log", frequencies.logarithmic)
                                       : parse_span("--linear", frequencies.linear);
    if (!span) {
        return tl::unexpected(span.error());
    }
    const auto chain = filter_of(opened, **channel, stage);
    if (!chain) {
        return tl::unexpected(chain.error());
    }
    // The titles go out with the first rows: a refused call says nothing on standard output.
    TitledOutput titled(out, "frequency_hz,magnitude_db,phase_deg,group_delay_s\n");
    const Axis axis = axis_of(opened.study, **channel);
    return done(frequencies.at ? respond_at(titled, *chain, *frequencies.at, axis)
                               : respond_over(titled, *chain, *span, axis));
}

namespace {

// Of an analog channel T h(n T), T being the study's sample period: what a sampled one would
// answer. An impulse that passes at once is no value of h.
Expected<std::vector<double>> impulse_of(const Filter& chain, const Axis& axis,
                                         std::size_t length) {
    if (!axis.is_analog()) {
        return chain.impulse_response(length);
    }
    const double period_s = 1 / axis.sample_rate_hz;
    return analog_time_response(chain, period_s, length).map([&](AnalogTimeResponse found) {
        if (found.at_once != 0) {
            fmt::print(stderr, "beside these an impulse of {} passes at once\n",
                       exact(found.at_once));
        }
        std::ranges::for_each(found.impulse, [&](double& value) { value *= period_s; });
        return std::move(found.impulse);
    });
}

} // namespace

Expected<bool> impulse(Opened& opened, Output& out, const std::string& channel_id,
                       const std::string& length_text) {
    const auto channel = find_channel(opened.study, channel_id);
    if (!channel) {
        return tl::unexpected(channel.error());
    }
    constexpr double most = 100'000'000;
    const auto length = number_from_text(length_text);
    const bool is_digits = length_text.find_first_not_of("0123456789") == std::string::npos;
    if (!length || !is_digits || !(*length >= 1 && *length <= most)) {
        return refuse("--length", fmt::format("“{}” is not a number of samples", length_text),
                      "write a whole number from 1 to 100000000");
    }
    const auto chain = filter_of(opened, **channel, "");
    if (!chain) {
        return tl::unexpected(chain.error());
    }
    const auto answer =
        impulse_of(*chain, axis_of(opened.study, **channel), static_cast<std::size_t>(*length));
    if (!answer) {
        return tl::unexpected(within("channel " + channel_id, answer.error()));
    }
    const std::vector<double>& response = *answer;
    constexpr std::size_t rows_at_once = 16'384;
    const auto beyond =
        std::ranges::find_if(response, [](double value) { return !std::isfinite(value); });
    if (beyond != response.end()) {
        return refuse(fmt::format("index {}", beyond - response.begin()),
                      "the response has grown beyond all numbers: the chain is unstable",
                      "ask for fewer samples or mend the chain");
    }
    std::string text = "index,value\n";
    for (std::size_t i = 0; i < response.size(); ++i) {
        fmt::format_to(std::back_inserter(text), "{},{}\n", i, exact(response[i]));
        if ((i + 1) % rows_at_once == 0 || i + 1 == response.size()) {
            if (auto written = out.write(text); !written) {
                return tl::unexpected(written.error());
            }
            text.clear();
        }
    }
    return true;
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
    const auto set = coefficients_of(opened.study, **channel, opened.cache.briefs());
    if (!set) {
        return tl::unexpected(set.error());
    }
    auto text = coefficient_text(*set, chosen->layout);
    if (!text) {
        return tl::unexpected(text.error());
    }
    return done(out.write(*text));
}

Expected<bool> judge(Opened& opened, Output& out, const std::string& channel_id,
                     JudgeFormat format) {
    if (!channel_id.empty()) {
        if (const auto channel = find_channel(opened.study, channel_id); !channel) {
            return tl::unexpected(channel.error());
        }
    }
    const Study& study = opened.study;
    bool is_all_met = true;
    std::vector<ChannelVerdict> verdicts;
    for (const auto& channel : study.channels) {
        if (channel_id.empty() || channel->id == channel_id) {
            finish(opened, {{channel->id, {}}});
            verdicts.push_back({&*channel, opened.cache.analyse(study, *channel)->verdict});
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
        text += fmt::format("{},{:.3g},{:.3g}\n", file.path.string(),
                            file.deviation.greatest_coefficient, file.deviation.greatest_db);
    }
    return done(out.write(text));
}

} // namespace syntonon::batch
