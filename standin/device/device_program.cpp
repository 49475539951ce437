// syntonon-device: a simulated processor on the network, for trying transfers without one.
// Exit 0 when it is ended, 2 when the call is wrong or the port is taken.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/version.h"
#include "core/exchange/sound_channels.h"
#include "core/study/processor_json.h"
#include "standin/device/running_device.h"

#include <CLI/CLI.hpp>
#include <csignal>
#include <cstdio>
#include <exception>
#include <fmt/format.h>
#include <string>
#include <vector>

namespace {

using namespace syntonon;
using namespace syntonon::oca;

constexpr int exit_wrong_input = 2;

struct Options {
    std::string processor = "kestrel-board", name = "Simulated processor", signal;
    double sample_rate_hz = 48000;
    std::size_t outputs = 4, most_taps = 4096;
    std::uint16_t port = 65000;
    bool on_all_interfaces = false;
    std::vector<std::string> faults;
};

Expected<std::vector<double>> signal_for(const Options& o) {
    constexpr std::int64_t most_frames = 100'000'000;
    if (o.signal.empty()) {
        return std::vector<double>(); // the device's own
    }
    return sound_channels(o.signal, most_frames).and_then([&](const SoundChannels& sound) {
        return sound.sample_rate_hz == o.sample_rate_hz
                   ? Expected<std::vector<double>>(sound.channels.front())
                   : refuse(o.signal,
                            fmt::format("is at {} Hz, the device at {} Hz", sound.sample_rate_hz,
                                        o.sample_rate_hz),
                            fmt::format("start it with --sample-rate {}", sound.sample_rate_hz));
    });
}

Expected<std::vector<Fault>> faults_for(const Options& o) {
    std::vector<Fault> faults;
    for (const std::string& text : o.faults) {
        const auto fault = fault_from_text(text);
        if (!fault) {
            return tl::unexpected(within("--fault", fault.error()));
        }
        faults.push_back(*fault);
    }
    return faults;
}

Expected<DeviceShape> shape_for(const Options& o) {
    return processor_by_name({}, o.processor).map([&](const Processor& processor) {
        DeviceShape shape;
        shape.name = o.name;
        shape.processor = processor;
        shape.sample_rate_hz = o.sample_rate_hz;
        shape.outputs = o.outputs;
        shape.most_taps = o.most_taps;
        shape.curves = 1;
        return shape;
    });
}

// Until it is told to end.
Expected<void> serve(const Options& o) {
    sigset_t ends;
    sigemptyset(&ends);
    sigaddset(&ends, SIGINT);
    sigaddset(&ends, SIGTERM);
    pthread_sigmask(SIG_BLOCK, &ends, nullptr); // in the threads that are begun, too
    const auto shape = shape_for(o);
    const auto faults = faults_for(o);
    auto signal = signal_for(o);
    if (!shape || !faults || !signal) {
        return tl::unexpected(!shape    ? within("--processor", shape.error())
                              : !faults ? faults.error()
                                        : signal.error());
    }
    const auto device =
        RunningDevice::start(*shape, o.port, o.on_all_interfaces, std::move(*signal));
    if (!device) {
        return tl::unexpected(within("--port", device.error()));
    }
    (*device)->server().set_faults(*faults);
    fmt::print("{}: {} with {} outputs, at 127.0.0.1:{}\n", o.name, shape->processor.name,
               o.outputs, (*device)->server().port());
    std::fflush(stdout);
    int received = 0;
    sigwait(&ends, &received);
    return {};
}

int run_program(int argc, char** argv) {
    CLI::App app("A simulated processor on the network (AES70), for trying transfers.",
                 "syntonon-device");
    app.set_version_flag("--version", version_text("syntonon-device"));
    Options o;
    app.add_option("--processor", o.processor, "Its profile: an id, or a file")
        ->capture_default_str();
    app.add_option("--name", o.name, "What it calls itself")->capture_default_str();
    app.add_option("--sample-rate", o.sample_rate_hz, "In Hz")
        ->check(CLI::Range(8000.0, 768000.0))
        ->capture_default_str();
    app.add_option("--outputs", o.outputs, "How many")
        ->check(CLI::Range(1, 64))
        ->capture_default_str();
    app.add_option("--taps", o.most_taps, "Of each output's FIR, at most")
        ->check(CLI::Range(1, 65535))
        ->capture_default_str();
    app.add_option("--port", o.port, "On this machine; 0: any that is free")->capture_default_str();
    app.add_flag("--open", o.on_all_interfaces, "Reachable from other machines, too");
    app.add_option("--signal", o.signal, "A sound file to run instead of pink noise");
    app.add_option("--fault", o.faults,
                   "What goes wrong at which call that sets something: drop, drop_done, delay, "
                   "refuse, full, wrong_read_back, reboot; as drop@3, delay@5:400");
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return error.get_exit_code() == 0
                   ? app.exit(error)
                   : (fmt::print(stderr, "syntonon-device: {}\n", error.what()), exit_wrong_input);
    }
    if (const auto ok = serve(o); !ok) {
        fmt::print(stderr, "syntonon-device: {}\n", to_text(ok.error()));
        return exit_wrong_input;
    }
    return 0;
}

} // namespace

int main(int argc, char** argv) {
    try {
        return run_program(argc, argv);
    } catch (const std::exception& error) {
        std::fprintf(stderr, "syntonon-device: %s\n", error.what());
        return exit_wrong_input;
    }
}
