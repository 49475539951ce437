// SPDX-License-Identifier: GPL-3.0-or-later
// The commands that answer in frequency and in time.
#include "batch/access.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/filter/analog_time.h"
#include "core/filter/grid.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon::batch {
namespace {

constexpr double most_points = 10'000'000;

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
std::string value_cell(double value) {
    return std::isnan(value) ? std::string() : exact(value);
}

// One row a frequency; `name(i)` is how the frequency is written.
template <class Name>
Expected<void> write_rows(Output& out, const Filter& chain, const FrequencyGrid& grid, Name name) {
    const Response total = chain.response(grid);
    std::string text;
    for (std::size_t i = 0; i < grid.size(); ++i) {
        fmt::format_to(
            std::back_inserter(text), "{},{},{},{}\n", name(i), value_cell(total.magnitude_db[i]),
            value_cell(wrapped_deg(deg_from_rad(total.phase_rad[i]))),
            value_cell(seconds_from_samples(total.group_delay_samples[i], grid.sample_rate_hz())));
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

} // namespace syntonon::batch
