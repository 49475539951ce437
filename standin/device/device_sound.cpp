// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/device/device_sound.h"

#include "core/device/object_stages.h"
#include "core/engine/filter_engine.h"
#include "core/engine/word_engine.h"
#include "core/filter/in_sections.h"
#include "core/study/briefs.h"
#include "core/word/nearest_words.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <condition_variable>
#include <fmt/format.h>
#include <map>
#include <mutex>
#include <thread>
#include <utility>

namespace syntonon::oca {
namespace {

constexpr auto stretch = std::chrono::milliseconds(100);
constexpr double silence_db = -200;

// What an output is set to; another one needs another engine.
using Settings = std::vector<Setting>;
Settings settings_of(const DeviceObjects& objects, std::size_t output) {
    Settings settings;
    for (const SimulatedObject* object : objects.of_output(output)) {
        if (object->state && !object->state->is_off()) {
            settings.push_back(object->state->setting);
        }
    }
    return settings;
}

Expected<Filter> filter_of(const Settings& settings, double sample_rate_hz) {
    Study study;
    study.sample_rate_hz = sample_rate_hz;
    Channel channel;
    for (const Setting& setting : settings) {
        auto spec = stage_from(setting, sample_rate_hz);
        if (!spec) {
            return tl::unexpected(spec.error());
        }
        if (*spec) {
            Stage stage;
            stage.id = fmt::format("s{}", channel.stages.size() + 1);
            stage.spec = std::move(**spec);
            channel.stages.emplace_back(std::move(stage));
        }
    }
    Briefs briefs;
    DesignedChain chain = briefs.design(study, channel);
    return chain.problems.empty() ? Expected<Filter>(chain.filter)
                                  : tl::unexpected(chain.problems.front());
}

// In the processor's words where they hold it.
Filter in_words(const Filter& filter, const Processor& processor) {
    const auto words = series_parts_of(filter.form()).and_then([&](const SeriesParts& parts) {
        return nearest_words(parts, processor.format_for(processor.structures.front().structure));
    });
    return words ? filter_in_words(*words) : filter;
}

double rms_db(const std::vector<double>& samples) {
    double sum = 0;
    for (const double sample : samples) {
        sum += sample * sample;
    }
    const double mean = sum / static_cast<double>(samples.size());
    return mean > 0 ? std::max(silence_db, 10 * std::log10(mean)) : silence_db;
}

} // namespace

Expected<Filter> filter_of_output(const DeviceObjects& objects, std::size_t output) {
    return filter_of(settings_of(objects, output), objects.shape().sample_rate_hz);
}

struct DeviceSound::Inside {
    // One output at work.
    struct Output {
        Settings settings;
        std::unique_ptr<Engine> engine; // null: its chain cannot be made, and it is silent
        std::uint32_t sensor = 0;
    };

    Inside(DeviceServer& to, std::vector<double> samples)
        : server(to), signal(std::move(samples)), thread([this] { run(); }) {}

    void run() {
        auto next = std::chrono::steady_clock::now();
        std::unique_lock lock(mutex);
        while (!is_over) {
            lock.unlock();
            process();
            lock.lock();
            next += stretch;
            wake.wait_until(lock, next, [this] { return is_over; });
        }
    }

    void process() {
        std::map<std::size_t, Settings> now;
        server.with_objects([&](DeviceObjects& objects) {
            shape = objects.shape();
            outputs.resize(shape.outputs);
            for (std::size_t i = 0; i < outputs.size(); ++i) {
                now[i] = settings_of(objects, i);
                for (const SimulatedObject* object : objects.of_output(i)) {
                    outputs[i].sensor = kind_of_class(object->class_id) == Kind::level_sensor
                                            ? object->number
                                            : outputs[i].sensor;
                }
            }
        });
        const auto count = static_cast<std::size_t>(
            shape.sample_rate_hz * std::chrono::duration<double>(stretch).count());
        std::vector<double> in(count);
        for (double& sample : in) {
            sample = signal[at++ % signal.size()];
        }
        std::vector<double> levels;
        for (std::size_t i = 0; i < outputs.size(); ++i) {
            follow(outputs[i], std::move(now[i]));
            std::vector<double> block = in;
            if (outputs[i].engine != nullptr) {
                outputs[i].engine->process(block);
            }
            levels.push_back(outputs[i].engine != nullptr ? rms_db(block) : silence_db);
        }
        server.change([&](DeviceObjects& objects, std::vector<PropertyChange>& changes) {
            for (std::size_t i = 0; i < outputs.size(); ++i) {
                objects.show_reading(outputs[i].sensor, static_cast<float>(levels[i]), changes);
            }
        });
    }

    void follow(Output& output, Settings settings) const {
        if (output.engine != nullptr && output.settings == settings) {
            return;
        }
        auto engine = filter_of(settings, shape.sample_rate_hz).and_then([&](const Filter& filter) {
            return engine_of(in_words(filter, shape.processor));
        });
        output.engine = engine ? std::move(*engine) : nullptr;
        output.settings = std::move(settings);
    }

    DeviceServer& server;
    const std::vector<double> signal;
    DeviceShape shape;
    std::vector<Output> outputs;
    std::size_t at = 0;

    std::mutex mutex;
    std::condition_variable wake;
    bool is_over = false;
    std::thread thread; // begins last
};

DeviceSound::DeviceSound(DeviceServer& server, std::vector<double> signal)
    : inside_(std::make_unique<Inside>(server, std::move(signal))) {}

DeviceSound::~DeviceSound() {
    {
        const std::lock_guard lock(inside_->mutex);
        inside_->is_over = true;
    }
    inside_->wake.notify_all();
    inside_->thread.join();
}

} // namespace syntonon::oca
