// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/study_json.h"

#include "core/base/file.h"
#include "core/study/curve_json.h"
#include "core/study/delivery_json.h"
#include "core/study/goal_json.h"
#include "core/study/json_reader.h"
#include "core/study/kinds.h"
#include "core/study/named_json.h"
#include "core/study/origins.h"
#include "core/study/processor_json.h"
#include "core/study/signal_json.h"
#include "core/study/stage_json.h"

#include <array>
#include <cmath>
#include <fmt/format.h>
#include <set>
#include <utility>

namespace syntonon {
namespace {

constexpr std::string_view format_name = "syntonon-study";

// --- reading ---

constexpr std::array averages =
    std::to_array<NamedValue<AverageOf>>({{AverageOf::power, "power", ""},
                                          {AverageOf::level, "level", ""},
                                          {AverageOf::vectors, "vectors", ""}});

Take read_take(ObjectReader object) {
    Take take;
    take.id = object.text("id");
    take.name = object.text_or("name", take.id);
    take.shown = object.boolean_or("shown", true);
    take.stages = read_stages(object);
    take.unknown = object.unknown();
    return take;
}

// A curve's id, or a list of positions.
MeasuredSet read_measured(ObjectReader& object) {
    MeasuredSet set;
    if (!object.is_list("measured")) {
        const std::string curve = object.text_or("measured", "");
        return curve.empty() ? set : MeasuredSet{{curve}};
    }
    object.each("measured", [&](ObjectReader position) {
        set.push_back({position.text("curve"), position.number_or("weight", 1), {}});
        if (!(set.back().weight >= 0)) {
            position.fail("weight", fmt::format("{} is not a weight", set.back().weight),
                          "give a number that is not negative");
        }
        set.back().unknown = position.unknown();
    });
    return set;
}

Channel read_channel(ObjectReader object) {
    Channel channel;
    channel.id = object.text("id");
    channel.name = object.text_or("name", channel.id);
    channel.colour = object.text_or("colour", "");
    const std::string domain = object.text_or("domain", "sampled");
    if (domain != "sampled" && domain != "analog") {
        object.fail("domain", fmt::format("“{}” is not a domain", domain), "use sampled or analog");
    }
    channel.domain = domain == "analog" ? Domain::analog : Domain::sampled;
    channel.mapped_from = object.text_or("mapped_from", "");
    channel.goal = object.text_or("goal", "");
    channel.measured = read_measured(object);
    read_named<AverageOf>(object, "average", averages, channel.average);
    channel.stages = read_stages(object);
    std::set<std::string> ids;
    object.each("takes", [&](ObjectReader take) {
        channel.takes.emplace_back(read_take(take));
        if (!ids.insert(channel.takes.back()->id).second) {
            take.fail("id",
                      fmt::format("“{}” is taken by an earlier take", channel.takes.back()->id),
                      "give each take its own id");
        }
    });
    if (object.has("difference")) {
        ObjectReader difference = object.object("difference");
        channel.difference = Difference{difference.text("of"), difference.text("from"), {}};
        channel.difference->unknown = difference.unknown();
    }
    if (object.has("bench")) {
        ObjectReader bench = object.object("bench");
        channel.bench.signal = bench.text_or("signal", "");
        channel.bench.reference = bench.text_or("reference", "");
        if (bench.has("compared")) {
            channel.bench.compared = bench.texts("compared");
        }
        if (bench.has("modulation")) {
            read_modulation(bench.object("modulation"), channel.bench.modulation);
        }
        channel.bench.unknown = bench.unknown();
    }
    channel.unknown = object.unknown();
    return channel;
}

void check_own_id(ObjectReader& object, const std::string& id, std::set<std::string>& ids) {
    if (!ids.insert(id).second) {
        object.fail("id", fmt::format("“{}” is taken by an earlier entry", id),
                    "give each entry its own id");
    }
}

// A list of entries that each have an id of their own.
template <class T, class Read>
std::vector<SharedValue<T>> read_entries(ObjectReader& study, std::string_view key, Read read) {
    std::vector<SharedValue<T>> entries;
    std::set<std::string> ids;
    study.each(key, [&](ObjectReader object) {
        entries.emplace_back(read(object));
        check_own_id(object, entries.back()->id, ids);
    });
    return entries;
}

// The file keeps what was measured; its curves are worked out from it, once all of it is known to
// be there.
void work_out_all(Study& study, ObjectReader& object) {
    if (object.log().problem) {
        return;
    }
    if (auto ok = work_out_curves(study, [](const Curve&) { return true; }); !ok) {
        object.fail(ok.error().place, ok.error().reason, ok.error().way_out);
    }
}

Study read_study(ObjectReader& object) {
    Study study;
    study.name = object.text_or("name", study.name);
    study.sample_rate_hz = read_sample_rate(object);
    std::set<std::string> gate_ids;
    study.microphones = read_entries<Curve>(object, "microphones", read_curve);
    study.impulses_beside = object.boolean_or("impulses_beside", false);
    object.each("gates", [&](ObjectReader gate) {
        study.gates.push_back(read_gate(gate));
        check_own_id(gate, study.gates.back().id, gate_ids);
    });
    study.curves = read_entries<Curve>(object, "curves", read_curve);
    work_out_all(study, object);
    study.goals = read_entries<Goal>(object, "goals", read_goal);
    study.test_signals = read_entries<Signal>(object, "signals", read_signal);
    study.channels = read_entries<Channel>(object, "channels", read_channel);
    study.processors = read_entries<Processor>(object, "processors", read_processor);
    std::set<std::string> delivery_ids;
    object.each("deliveries", [&](ObjectReader delivery) {
        study.deliveries.push_back(read_delivery(delivery));
        check_own_id(delivery, study.deliveries.back().id, delivery_ids);
    });
    study.unknown = object.unknown();
    return study;
}

// --- writing ---

Json take_json(const Take& take) {
    Json object;
    object.set("id", take.id).set("name", take.name).set("shown", take.shown);
    object.set("stages", chain_json(take.stages));
    object.set_unknown(take.unknown);
    return object;
}

Json position_json(const Position& position) {
    Json object;
    object.set("curve", position.curve).set("weight", position.weight);
    return object.set_unknown(position.unknown);
}

// One position that says nothing else is written as its curve's id.
void write_measured(Json& object, const MeasuredSet& set) {
    if (set.size() == 1 && set[0] == Position{set[0].curve}) {
        object.set("measured", set[0].curve);
    } else if (!set.empty()) {
        object.set("measured", list_json(set, position_json));
    }
}

Json bench_json(const Bench& bench) {
    Json object;
    for (const auto& [key, id] :
         {std::pair("signal", &bench.signal), std::pair("reference", &bench.reference)}) {
        if (!id->empty()) {
            object.set(key, *id);
        }
    }
    if (!bench.compared.empty()) {
        object.set("compared", list_json(bench.compared, [](const auto& key) { return key; }));
    }
    if (bench.modulation != Modulation()) {
        object.set("modulation", modulation_json(bench.modulation));
    }
    return object.set_unknown(bench.unknown);
}

Json channel_json(const Channel& channel) {
    Json object;
    object.set("id", channel.id);
    object.set("name", channel.name);
    if (!channel.colour.empty()) {
        object.set("colour", channel.colour);
    }
    if (channel.domain == Domain::analog) {
        object.set("domain", "analog");
    }
    if (!channel.mapped_from.empty()) {
        object.set("mapped_from", channel.mapped_from);
    }
    if (!channel.goal.empty()) {
        object.set("goal", channel.goal);
    }
    write_measured(object, channel.measured);
    if (channel.average != AverageOf::power) {
        object.set("average", key_of_named<AverageOf>(averages, channel.average));
    }
    object.set("stages", chain_json(channel.stages));
    if (!channel.takes.empty()) {
        object.set("takes", list_json(channel.takes, [](const auto& t) { return take_json(*t); }));
    }
    if (channel.difference) {
        Json difference;
        difference.set("of", channel.difference->of).set("from", channel.difference->from);
        object.set("difference", difference.set_unknown(channel.difference->unknown));
    }
    if (channel.bench != Bench{}) {
        object.set("bench", bench_json(channel.bench));
    }
    object.set_unknown(channel.unknown);
    return object;
}

} // namespace

Expected<ReadStudy> study_from_json(std::string_view text) {
    const auto json = checked_json(text);
    if (!json) {
        return tl::unexpected(json.error());
    }
    ReadLog log;
    ObjectReader object(*json, "", log);
    check_head(object, format_name, study_version);
    ReadStudy read;
    // A foreign or newer document's fields would only raise misleading complaints.
    if (!log.problem) {
        read.study = read_study(object);
    }
    if (log.problem) {
        return tl::unexpected(std::move(*log.problem));
    }
    read.warnings = std::move(log.warnings);
    if (log.more_warnings > 0) {
        read.warnings.push_back(fmt::format("{} more of these warnings", log.more_warnings));
    }
    return read;
}

std::string json_from_study(const Study& study) {
    Json object;
    object.set("format", format_name);
    object.set("version", study_version);
    object.set("name", study.name);
    object.set("sample_rate_hz", study.sample_rate_hz);
    object.set("curves", list_json(study.curves, [](const auto& c) { return curve_json(*c); }));
    if (study.impulses_beside) {
        object.set("impulses_beside", true);
    }
    if (!study.gates.empty()) {
        object.set("gates", list_json(study.gates, gate_json));
    }
    if (!study.microphones.empty()) {
        object.set("microphones",
                   list_json(study.microphones, [](const auto& c) { return curve_json(*c); }));
    }
    object.set("goals", list_json(study.goals, [](const auto& g) { return goal_json(*g); }));
    if (!study.test_signals.empty()) {
        object.set("signals",
                   list_json(study.test_signals, [](const auto& s) { return signal_json(*s); }));
    }
    object.set("channels",
               list_json(study.channels, [](const auto& c) { return channel_json(*c); }));
    if (!study.processors.empty()) {
        object.set("processors",
                   list_json(study.processors, [](const auto& p) { return processor_json(*p); }));
    }
    object.set("deliveries", list_json(study.deliveries, delivery_json));
    object.set_unknown(study.unknown);
    return object.text() + "\n";
}

Expected<ReadStudy> load_study(const std::filesystem::path& path) {
    const auto bytes = read_file(path, most_study_bytes);
    if (!bytes) {
        return tl::unexpected(bytes.error());
    }
    auto read = study_from_json(*bytes);
    if (!read) {
        return tl::unexpected(in_file(path.string(), read.error()));
    }
    return read;
}

Expected<void> save_study(const Study& study, const std::filesystem::path& path) {
    return write_file_atomically(path, json_from_study(study));
}

} // namespace syntonon
