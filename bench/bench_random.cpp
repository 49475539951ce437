// Random designs of every kind: the stages in a folder with their numbers, words and lists changed
// at random are read, designed and looked at: alone, split with the one before, in an analog
// channel, and as their analog side. Each must give finite numbers or a refusal of one line with a
// way out, and stop soon when told to.
//   bench_random FOLDER [COUNT [SEED [FIRST]]]     FOLDER: stage files, tests/fuzz/corpus/stage;
//                                                  FIRST: the designs before it are not made
// Ends with 1, and the stage on standard output, where a promise is broken.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/spent.h"
#include "core/study/analog_side.h"
#include "core/study/briefs.h"
#include "core/study/kinds.h"
#include "core/study/stage_file.h"
#include "demo/brightwater.h"

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <ctime>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <map>
#include <mutex>
#include <nlohmann/json.hpp>
#include <optional>
#include <random>
#include <set>
#include <thread>

namespace {

using namespace syntonon;
using Json = nlohmann::ordered_json;

constexpr double asked_to_stop_after_s = 2, hangs_after_s = 30; // of CPU
constexpr double stands_after_s = 900;                          // whatever it waits for

class Mutator {
public:
    explicit Mutator(std::uint64_t seed) : random_(seed) {}

    std::size_t below(std::size_t count) {
        return std::uniform_int_distribution<std::size_t>(0, count - 1)(random_);
    }
    // What texts stand under which key in any of them.
    void learn(const Json& json) {
        for (const auto& [key, value] : json.items()) {
            if (value.is_string()) {
                words_[key].insert(value.get<std::string>());
            } else if (value.is_structured()) {
                learn(value);
            }
        }
    }
    // One to four places of it.
    void change(Json& stage) {
        constexpr std::size_t most_changes = 4;
        for (std::size_t left = 1 + below(most_changes); left > 0; --left) {
            std::vector<Place> places;
            collect(stage, places);
            if (!places.empty()) {
                change_one(places[below(places.size())]);
            }
        }
    }

private:
    struct Place {
        std::string key;
        Json* value;
    };

    static void collect(Json& json, std::vector<Place>& places) {
        for (auto& [key, value] : json.items()) {
            if (key == "kind" || key == "id" || key == "method" || key == "format") {
                continue;
            }
            places.push_back({key, &value});
            if (value.is_structured()) {
                collect(value, places);
            }
        }
    }
    double number(double was) {
        constexpr double telling[] = {0,     1,     -1,    2,     0.5,  1e-12,    -1e-12, 1e12,
                                      20,    24000, 47999, 48000, 1e-3, 100,      1e300,  -1e300,
                                      0.707, 3,     7,     64,    128,  23999.999};
        switch (below(5)) {
        case 0:
            return telling[below(std::size(telling))];
        case 1:
            return was * std::exp(std::normal_distribution<double>(0, 1)(random_));
        case 2:
            return std::pow(10.0, std::uniform_real_distribution<double>(-3, 4.5)(random_));
        case 3:
            return std::round(was + std::normal_distribution<double>(0, 4)(random_));
        default:
            return -was;
        }
    }
    void change_one(const Place& place) {
        Json& value = *place.value;
        if (value.is_number()) {
            const double was = value.get<double>(), is = number(was);
            constexpr std::size_t stays_whole_of = 5; // mostly: lengths and orders are whole
            value = was == std::round(was) && below(stays_whole_of) > 0 ? std::round(is) : is;
        } else if (value.is_boolean()) {
            value = !value.get<bool>();
        } else if (value.is_string()) {
            const auto& words = words_[place.key];
            value = *std::next(words.begin(), static_cast<std::ptrdiff_t>(below(words.size())));
        } else if (value.is_array() && !value.empty()) {
            const std::size_t at = below(value.size());
            if (below(2) == 0) {
                value.erase(at);
            } else {
                value.insert(value.begin() + static_cast<std::ptrdiff_t>(at), Json(value[at]));
            }
        }
    }

    std::mt19937_64 random_;
    std::map<std::string, std::set<std::string>> words_;
};

// Tells the designer to stop where it takes long, and ends the program where it does not.
class Guard {
public:
    Guard() : thread_([this](const std::stop_token& over) { look(over); }) {}

    Watch begin(const std::string& stage) {
        const std::lock_guard lock(mutex_);
        stage_ = stage;
        watch_ = Watch();
        began_ = std::chrono::steady_clock::now();
        cpu_before_ = std::clock();
        return watch_;
    }

private:
    void look(const std::stop_token& over) {
        while (!over.stop_requested()) {
            std::this_thread::sleep_for(std::chrono::milliseconds(100));
            const std::lock_guard lock(mutex_);
            const std::chrono::duration<double> taken = std::chrono::steady_clock::now() - began_;
            const double cpu_s = double(std::clock() - cpu_before_) / CLOCKS_PER_SEC;
            if (!stage_.empty() && cpu_s > asked_to_stop_after_s) {
                watch_.stop();
            }
            if (!stage_.empty() && (cpu_s > hangs_after_s || taken.count() > stands_after_s)) {
                std::printf("hangs: %s\n", stage_.c_str());
                std::fflush(stdout);
                std::_Exit(1);
            }
        }
    }

    std::mutex mutex_;
    std::string stage_;
    Watch watch_;
    std::chrono::steady_clock::time_point began_ = std::chrono::steady_clock::now();
    std::clock_t cpu_before_ = 0;
    std::jthread thread_;
};

struct Counted {
    long designed = 0, refused = 0, unread = 0, stopped = 0;
    double slowest_s = 0;
};

std::string broken_refusal(const Problem& problem) {
    if (problem.reason.empty()) {
        return "a refusal without a reason";
    }
    if (problem.way_out.empty()) {
        return "a refusal without a way out: " + to_text(problem);
    }
    return to_text(problem).find('\n') == std::string::npos ? "" : "a refusal of several lines";
}

// What is asked of any filter.
std::string broken_filter(const Filter& filter, const Axis& axis) {
    constexpr double asked_hz[] = {0, 1, 20, 440, 1000, 7777, 20000, 24000};
    for (const double hz : asked_hz) {
        const ResponsePoint at = filter.response_at(hz, axis);
        if (std::isnan(at.magnitude_db) || std::isnan(at.phase_rad)) {
            return "no number at " + std::to_string(hz) + " Hz";
        }
    }
    if (const auto roots = filter.roots()) {
        const auto is_finite = [](const auto& root) {
            return std::isfinite(root.real()) && std::isfinite(root.imag());
        };
        if (!std::ranges::all_of(roots->zeros, is_finite)
            || !std::ranges::all_of(roots->poles, is_finite)) {
            return "a root that is no number";
        }
    } else if (const auto broken = broken_refusal(roots.error()); !broken.empty()) {
        return broken;
    }
    return {};
}

enum class Place { alone, split, analog_channel, analog_side };
constexpr Place places[] = {Place::alone, Place::alone,          Place::alone,
                            Place::split, Place::analog_channel, Place::analog_side};

const char* name_of(Place place) {
    switch (place) {
    case Place::split:
        return "split with the one before";
    case Place::analog_channel:
        return "in an analog channel";
    case Place::analog_side:
        return "analog side of a split with the one before";
    case Place::alone:
        break;
    }
    return "alone";
}

class Designs {
public:
    Designs() : study_(brightwater_study()) {}

    // Only as the one before others.
    void pass_by(const std::string& text) {
        if (const auto read = stage_from_json(text)) {
            before_ = Before{read->stage, text};
        }
    }

    // What was broken; empty: nothing.
    std::string try_one(long number, const std::string& text, Place place, Counted& counted) {
        what_ = fmt::format("design {}: {} {}{}{}", number, text, name_of(place),
                            before_ ? ": " : "", before_ ? before_->text : "");
        const auto read = stage_from_json(text);
        if (!read) {
            ++counted.unread;
            return broken_refusal(read.error());
        }
        Channel& channel = study_.channels.front().edit();
        channel.stages = placed(read->stage, place);
        channel.domain = place == Place::analog_channel ? Domain::analog : Domain::sampled;
        before_ = Before{read->stage, text};
        const Watch watch = guard_.begin(what_);
        const bool analog_side = place == Place::analog_side;
        std::string broken;
        const Spent spent = spent_on([&] { broken = design(analog_side, watch, counted); });
        counted.slowest_s = std::max(counted.slowest_s, spent.cpu_s);
        guard_.begin({});
        return broken;
    }

    // The design that was tried last: what it takes to do it again.
    const std::string& what() const { return what_; }

private:
    // The analog side is that of a split, so that it may be of both kinds.
    Chain placed(const Stage& stage, Place place) const {
        if (!before_ || (place != Place::split && place != Place::analog_side)) {
            return {stage};
        }
        Stage other = before_->stage;
        other.id = "other";
        Stage split;
        split.id = "split";
        split.spec = SplitSpec{{{1, {stage}}, {-0.5, {other}}}};
        return {split};
    }

    std::string design(bool analog_side, const Watch& watch, Counted& counted) {
        Briefs briefs(std::make_shared<DesignStore>(DesignStore::usual_bytes,
                                                    analog_side ? analog_where_possible()
                                                                : designer_of_all_kinds()));
        DesignedChain made = briefs.design(study_, *study_.channels.front());
        while (!made.jobs.empty() && !watch.is_stopped()) {
            run(made.jobs.front(), briefs.store(), watch);
            made = briefs.design(study_, *study_.channels.front());
        }
        if (!made.jobs.empty()) {
            ++counted.stopped;
            return {};
        }
        ++(made.problems.empty() ? counted.designed : counted.refused);
        for (const Problem& problem : made.problems) {
            if (const auto broken = broken_refusal(problem); !broken.empty()) {
                return broken;
            }
        }
        return broken_filter(made.filter, axis_of(study_, *study_.channels.front()));
    }

    Study study_;
    struct Before { // of what is tried: a split's other stage
        Stage stage;
        std::string text;
    };
    std::optional<Before> before_;
    std::string what_;
    Guard guard_;
};

std::vector<Json> stages_in(const std::filesystem::path& folder) {
    std::vector<Json> all;
    for (const auto& entry : std::filesystem::directory_iterator(folder)) {
        std::ifstream file(entry.path());
        const Json read = Json::parse(file, nullptr, false);
        if (!read.is_discarded() && read.contains("stages")) {
            all.push_back(read);
        }
    }
    std::ranges::sort(all, {}, [](const Json& each) { return each.dump(); });
    return all;
}

std::string name_of(const Json& file) {
    const Json& stage = file["stages"][0];
    const std::string kind = stage.value("kind", "");
    for (const char* more : {"method", "family", "shape", "interpolation"}) {
        if (stage.contains(more)) {
            return kind + " " + stage.value(more, "");
        }
    }
    return kind;
}

void print_counts(const std::map<std::string, Counted>& by_name) {
    std::printf("%-34s %9s %9s %9s %8s %10s\n", "stage", "designed", "refused", "not read",
                "stopped", "slowest, s");
    for (const auto& [name, c] : by_name) {
        std::printf("%-34s %9ld %9ld %9ld %8ld %10.2f\n", name.c_str(), c.designed, c.refused,
                    c.unread, c.stopped, c.slowest_s);
    }
}

} // namespace

int main(int argc, char** argv) {
    if (argc < 2) {
        std::fprintf(stderr, "bench_random FOLDER [COUNT [SEED [FIRST]]]\n");
        return 2;
    }
    if (!std::filesystem::is_directory(argv[1])) {
        std::fprintf(stderr, "%s: there is no such folder; give one of stage files\n", argv[1]);
        return 2;
    }
    const long count = argc > 2 ? std::atol(argv[2]) : 10'000;
    Mutator mutator(argc > 3 ? std::strtoull(argv[3], nullptr, 10) : 1);
    const std::vector<Json> seeds = stages_in(argv[1]);
    if (seeds.empty()) {
        std::fprintf(stderr, "%s: no stages in it\n", argv[1]);
        return 2;
    }
    for (const Json& each : seeds) {
        mutator.learn(each["stages"]);
    }
    Designs designs;
    std::map<std::string, Counted> by_name;
    int broken = 0;
    const long first = argc > 4 ? std::atol(argv[4]) : 0;
    for (long n = 0; n < count; ++n) {
        Json file = seeds[static_cast<std::size_t>(n) % seeds.size()];
        const std::string name = name_of(file);
        mutator.change(file["stages"]);
        const std::string text = file.dump();
        const Place place =
            places[static_cast<std::size_t>(n / long(seeds.size())) % std::size(places)];
        if (n < first) {
            designs.pass_by(text);
            continue;
        }
        const std::string what = designs.try_one(n, text, place, by_name[name]);
        if (!what.empty() && ++broken <= 20) {
            std::printf("broken: %s\n  %s\n", what.c_str(), designs.what().c_str());
            std::fflush(stdout);
        }
    }
    print_counts(by_name);
    std::printf("%ld designs, %d broken promises\n", count, broken);
    return broken == 0 ? 0 : 1;
}
