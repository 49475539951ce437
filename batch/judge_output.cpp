// SPDX-License-Identifier: GPL-3.0-or-later
#include "batch/judge_output.h"

#include "core/base/json.h"
#include "core/goal/verdict_text.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon::batch {
namespace {

void set_if_known(Json& object, const char* key, const std::optional<double>& value) {
    value ? object.set(key, *value) : object.set_null(key);
}

Json finding_json(const Channel& channel, const Finding& finding) {
    Json object;
    object.set("channel", channel.id);
    channel.goal.empty() ? object.set_null("goal") : object.set("goal", channel.goal);
    object.set("requirement", finding.requirement);
    object.set("place", finding.place);
    set_if_known(object, "value", finding.value);
    set_if_known(object, "limit", finding.limit);
    set_if_known(object, "margin", finding.margin);
    object.set("unit", finding.unit);
    set_if_known(object, "worst_hz", finding.worst_hz);
    object.set("met", finding.outcome == Outcome::met);
    if (finding.outcome == Outcome::undecided) {
        object.set("undecided", finding.reason);
    } else if (!finding.reason.empty()) {
        object.set("because", finding.reason);
    }
    return object;
}

std::string json_output(const std::vector<ChannelVerdict>& verdicts) {
    Json list = Json::list();
    for (const ChannelVerdict& judged : verdicts) {
        for (const Finding& finding : judged.verdict) {
            list.add(finding_json(*judged.channel, finding));
        }
    }
    return list.text() + "\n";
}

// For attributes and text; characters that XML 1.0 forbids become blanks.
std::string xml_text(std::string_view text) {
    std::string out;
    for (const char c : text) {
        switch (c) {
        case '&':
            out += "&amp;";
            break;
        case '<':
            out += "&lt;";
            break;
        case '>':
            out += "&gt;";
            break;
        case '"':
            out += "&quot;";
            break;
        default:
            out += c >= 0 && c < 0x20 ? ' ' : c;
        }
    }
    return out;
}

std::string test_case(const Channel& channel, const Finding& finding) {
    const std::string start = fmt::format("    <testcase classname=\"{}\" name=\"{}\"",
                                          xml_text(channel.id), xml_text(finding.requirement));
    if (finding.outcome == Outcome::met) {
        return start + "/>\n";
    }
    const char* element = finding.outcome == Outcome::not_met ? "failure" : "error";
    return start
           + fmt::format(">\n      <{} message=\"{}\"/>\n    </testcase>\n", element,
                         xml_text(line_of(channel.id, finding)));
}

std::string junit_output(const Study& study, const std::vector<ChannelVerdict>& verdicts) {
    std::string text = fmt::format("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
                                   "<testsuites name=\"{}\">\n",
                                   xml_text(study.name));
    for (const ChannelVerdict& judged : verdicts) {
        const Channel* channel = judged.channel;
        const Verdict& verdict = judged.verdict;
        const auto count = [&verdict](Outcome outcome) {
            return std::ranges::count(verdict, outcome, &Finding::outcome);
        };
        text += fmt::format("  <testsuite name=\"{}\" tests=\"{}\" failures=\"{}\" "
                            "errors=\"{}\">\n",
                            xml_text(channel->name), verdict.size(), count(Outcome::not_met),
                            count(Outcome::undecided));
        for (const Finding& finding : verdict) {
            text += test_case(*channel, finding);
        }
        text += "  </testsuite>\n";
    }
    return text + "</testsuites>\n";
}

} // namespace

std::string judge_output(const Study& study, const std::vector<ChannelVerdict>& verdicts,
                         JudgeFormat format) {
    if (format == JudgeFormat::json) {
        return json_output(verdicts);
    }
    if (format == JudgeFormat::junit) {
        return junit_output(study, verdicts);
    }
    std::string text;
    for (const ChannelVerdict& judged : verdicts) {
        for (const Finding& finding : judged.verdict) {
            text += line_of(judged.channel->id, finding) + "\n";
        }
    }
    return text;
}

} // namespace syntonon::batch
