// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/instrument_files.h"

#include "core/exchange/coefficient_writers.h"

#include <array>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr std::array<std::string_view, 4> instrument_files = {"_cpp/filter.hpp", "_cpp/test.cpp",
                                                              "_cpp/host.cpp", "_cpp/Makefile"};
constexpr std::array<std::string_view, 5> lv2_files = {
    ".lv2/plugin.ttl", ".lv2/manifest.ttl", ".lv2/filter.hpp", ".lv2/plugin.cpp", ".lv2/Makefile"};

constexpr std::string_view licence = "// SPDX-License-Identifier: 0BSD\n";

std::string with_name(std::string_view text, const Instrument& instrument) {
    constexpr std::string_view mark = "FILTER";
    std::string filled;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t next = std::min(text.find(mark, at), text.size());
        filled += text.substr(at, next - at);
        filled += next < text.size() ? "syntonon_made::" + instrument.class_name : "";
        at = next + (next < text.size() ? mark.size() : 0);
    }
    return filled;
}

std::string numbers_text(const char* name, const std::vector<double>& values) {
    std::string text = fmt::format("constexpr double {}[] = {{\n", name);
    for (const double value : values) {
        text += fmt::format("    {:a},\n", value);
    }
    return text + "};\n";
}

// Against what the bench made, and voices against one another.
constexpr std::string_view test_body = R"code(
// Noise by whole numbers: the same everywhere.
std::vector<double> input() {
    std::vector<double> values;
    std::uint32_t state = 1;
    for (std::size_t n = 0; n < std::size(wanted); ++n) {
        state = 1664525 * state + 1013904223;
        values.push_back(static_cast<double>(state >> 8) / (1 << 24) - 0.5);
    }
    return values;
}

bool as_the_bench() {
    FILTER<> filter;
    std::vector<double> signal = input();
    filter.process(std::span(signal));
    double worst = 0, loudest = 0;
    for (std::size_t n = 0; n < signal.size(); ++n) {
        worst = std::max(worst, std::abs(signal[n] - wanted[n]));
        loudest = std::max(loudest, std::abs(wanted[n]));
    }
    const bool same = to_the_last_bit ? worst == 0 : worst <= 1e-9 * loudest;
    std::printf(same ? "as the bench%s\n" : "NOT as the bench%s\n",
                to_the_last_bit ? ", to the last bit" : ", but for rounding");
    return same;
}

// One voice of four, among others that get something else, and alone.
bool voices_are_apart() {
    constexpr std::size_t voices = 4, own = 2;
    FILTER<voices> together;
    FILTER<> alone;
    std::vector<double> signal = input();
    std::vector<FILTER<voices>::Row> rows(signal.size());
    for (std::size_t n = 0; n < signal.size(); ++n) {
        for (std::size_t j = 0; j < voices; ++j) {
            rows[n][j] = j == own ? signal[n] : 0.3 * static_cast<double>(j) * signal[n] - 0.1;
        }
    }
    together.process(std::span(rows));
    alone.process(std::span(signal));
    bool same = true;
    for (std::size_t n = 0; n < signal.size(); ++n) {
        same = same && rows[n][own] == signal[n];
    }
    std::printf(same ? "a voice among others is as alone\n" : "voices are NOT apart\n");
    return same;
}

// Every parameter from one end to the other, and silence behind it.
bool stays_within_bounds() {
    FILTER<> filter;
    std::vector<double> signal = input();
    bool bounded = true;
    for (int round = 0; round < 40; ++round) {
        for (std::size_t i = 0; i < filter.parameters; ++i) {
            const auto& p = filter.parameter[i];
            filter.set(i, (round + static_cast<int>(i)) % 2 == 0 ? p.least : p.most);
        }
        std::vector<double> block = signal;
        filter.process(std::span(block));
        for (const double x : block) {
            bounded = bounded && std::abs(x) < 1e6;
        }
    }
    std::printf(bounded ? "stays within bounds\n" : "does NOT stay within bounds\n");
    return bounded;
}

} // namespace

int main() {
    const bool good = as_the_bench() & voices_are_apart() & stays_within_bounds();
    return good ? 0 : 1;
}
)code";

std::string test_text(const Instrument& instrument) {
    return "// What comes out against what the bench of Syntonon made of the same signal.\n"
           + std::string(licence)
           + "#include \"filter.hpp\"\n\n#include <cmath>\n#include <cstdint>\n#include "
             "<cstdio>\n#include <vector>\n\nnamespace {\n\n"
           + numbers_text("wanted", instrument.output)
           + fmt::format("constexpr bool to_the_last_bit = {};\n",
                         instrument.to_the_last_bit ? "true" : "false")
           + with_name(test_body, instrument);
}

constexpr std::string_view host_body = R"code(#include "filter.hpp"

#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <sndfile.h>
#include <string>
#include <vector>
#ifdef WITH_JACK
#include <atomic>
#include <chrono>
#include <csignal>
#include <jack/jack.h>
#include <thread>
#endif

namespace {

using Filter = FILTER<>;

// "symbol=value"
bool take(Filter& filter, const char* text) {
    const char* equals = std::strchr(text, '=');
    for (std::size_t i = 0; equals != nullptr && i < filter.parameters; ++i) {
        const char* symbol = filter.parameter[i].symbol;
        if (std::string(text, equals) == symbol) {
            filter.set(i, std::atof(equals + 1));
            return true;
        }
    }
    std::fprintf(stderr, "%s: no such parameter; write symbol=value with one of:\n", text);
    for (std::size_t i = 0; i < filter.parameters; ++i) {
        const auto& p = filter.parameter[i];
        std::fprintf(stderr, "  %s  (%s: %g to %g %s, usually %g)\n", p.symbol, p.name, p.least,
                     p.most, p.unit, p.usual);
    }
    return false;
}

bool is_of_this_rate(double rate_hz) {
    if (Filter::is_of_one_rate && rate_hz != Filter::designed_rate_hz) {
        std::fprintf(stderr, "%g Hz: its sections are right at %g Hz alone\n", rate_hz,
                     Filter::designed_rate_hz);
        return false;
    }
    return true;
}

// Each channel of the sound through a filter of its own.
int filter_file(const char* from, const char* to, int count, char** settings) {
    SF_INFO info{};
    SNDFILE* in = sf_open(from, SFM_READ, &info);
    if (in == nullptr) {
        std::fprintf(stderr, "%s: %s\n", from, sf_strerror(nullptr));
        return 2;
    }
    if (!is_of_this_rate(info.samplerate)) {
        return 2;
    }
    SNDFILE* out = sf_open(to, SFM_WRITE, &info);
    if (out == nullptr) {
        std::fprintf(stderr, "%s: %s\n", to, sf_strerror(nullptr));
        return 2;
    }
    const auto channels = static_cast<std::size_t>(info.channels);
    std::vector<Filter> filters(channels);
    for (Filter& filter : filters) {
        filter.prepare(info.samplerate);
        for (int i = 0; i < count; ++i) {
            if (!take(filter, settings[i])) {
                return 2;
            }
        }
    }
    constexpr sf_count_t frames = 1024;
    std::vector<double> block(static_cast<std::size_t>(frames) * channels), one;
    while (const sf_count_t got = sf_readf_double(in, block.data(), frames)) {
        one.resize(static_cast<std::size_t>(got));
        for (std::size_t c = 0; c < channels; ++c) {
            for (std::size_t n = 0; n < one.size(); ++n) {
                one[n] = block[n * channels + c];
            }
            filters[c].process(std::span(one));
            for (std::size_t n = 0; n < one.size(); ++n) {
                block[n * channels + c] = one[n];
            }
        }
        if (sf_writef_double(out, block.data(), got) != got) {
            std::fprintf(stderr, "%s: %s\n", to, sf_strerror(out));
            return 2;
        }
    }
    sf_close(in);
    return sf_close(out) == 0 ? 0 : 2;
}

#ifdef WITH_JACK
struct Ports {
    jack_port_t *in, *out;
    Filter filter;
    std::vector<double> block;
};
std::atomic<bool> goes_on = true;

int process(jack_nframes_t frames, void* self) {
    auto& ports = *static_cast<Ports*>(self);
    const auto* in = static_cast<const float*>(jack_port_get_buffer(ports.in, frames));
    auto* out = static_cast<float*>(jack_port_get_buffer(ports.out, frames));
    for (jack_nframes_t at = 0; at < frames;) {
        const std::size_t count = std::min<std::size_t>(frames - at, ports.block.size());
        for (std::size_t n = 0; n < count; ++n) {
            ports.block[n] = in[at + n];
        }
        ports.filter.process(std::span(ports.block).first(count));
        for (std::size_t n = 0; n < count; ++n) {
            out[at + n] = static_cast<float>(ports.block[n]);
        }
        at += static_cast<jack_nframes_t>(count);
    }
    return 0;
}

int play(int count, char** settings) {
    jack_client_t* client = jack_client_open("syntonon_filter", JackNoStartServer, nullptr);
    if (client == nullptr) {
        std::fprintf(stderr, "JACK is not running; start it first\n");
        return 2;
    }
    static Ports ports;
    ports.block.resize(4096);
    if (!is_of_this_rate(jack_get_sample_rate(client))) {
        return 2;
    }
    ports.filter.prepare(jack_get_sample_rate(client));
    for (int i = 0; i < count; ++i) {
        if (!take(ports.filter, settings[i])) {
            return 2;
        }
    }
    ports.in = jack_port_register(client, "in", JACK_DEFAULT_AUDIO_TYPE, JackPortIsInput, 0);
    ports.out = jack_port_register(client, "out", JACK_DEFAULT_AUDIO_TYPE, JackPortIsOutput, 0);
    jack_set_process_callback(client, process, &ports);
    if (jack_activate(client) != 0) {
        std::fprintf(stderr, "JACK does not take it\n");
        return 2;
    }
    std::signal(SIGINT, [](int) { goes_on = false; });
    std::signal(SIGTERM, [](int) { goes_on = false; });
    std::puts("playing; connect the ports in and out, end with Ctrl-C");
    while (goes_on) {
        std::this_thread::sleep_for(std::chrono::milliseconds(50));
    }
    jack_client_close(client);
    return 0;
}
#endif

} // namespace

int main(int count, char** words) {
    if (count >= 2 && std::strcmp(words[1], "--jack") == 0) {
#ifdef WITH_JACK
        return play(count - 2, words + 2);
#else
        std::fprintf(stderr, "was built without JACK: install libjack-dev and run make again\n");
        return 2;
#endif
    }
    if (count < 3) {
        std::fprintf(stderr, "usage: %s IN OUT [symbol=value ...]\n       %s --jack [symbol=value "
                             "...]\n",
                     words[0], words[0]);
        return 2;
    }
    return filter_file(words[1], words[2], count - 3, words + 3);
}
)code";

std::string host_text(const Instrument& instrument) {
    return "// Filters a sound file, or plays between JACK's ports.\n" + std::string(licence)
           + with_name(host_body, instrument);
}

// $(...) is make's own.
constexpr std::string_view instrument_makefile =
    R"make(# make: the test is built and run, and the host is built, with JACK where it is there.
CXX ?= c++
CXXFLAGS ?= -O3
WHERE_BITS_COUNT = -std=c++20 -Wall -Wextra -ffp-contract=off -fno-trapping-math -fno-math-errno
JACK = $(shell pkg-config --exists jack && echo -DWITH_JACK $$(pkg-config --cflags --libs jack))

all: host test
	./test

test: test.cpp filter.hpp
	$(CXX) $(WHERE_BITS_COUNT) $(CXXFLAGS) -o $@ test.cpp

host: host.cpp filter.hpp
	$(CXX) $(WHERE_BITS_COUNT) $(CXXFLAGS) -o $@ host.cpp $$(pkg-config --cflags --libs sndfile) $(JACK) -lpthread

clean:
	rm -f test host

.PHONY: all clean
)make";

// --- LV2 ---

std::string uri_of(const Instrument& instrument) {
    return "urn:syntonon:" + slug(instrument.study, '-') + ":" + slug(instrument.channel_id, '-');
}

std::string manifest_text(const Instrument& instrument) {
    return fmt::format("@prefix lv2: <http://lv2plug.in/ns/lv2core#> .\n"
                       "@prefix rdfs: <http://www.w3.org/2000/01/rdf-schema#> .\n\n"
                       "<{}>\n    a lv2:Plugin ;\n    lv2:binary <plugin.so> ;\n"
                       "    rdfs:seeAlso <plugin.ttl> .\n",
                       uri_of(instrument));
}

std::string port_text(const InstrumentParameter& p, std::size_t index) {
    std::string text = fmt::format(
        " , [\n        a lv2:InputPort , lv2:ControlPort ;\n        lv2:index {} ;\n"
        "        lv2:symbol \"{}\" ;\n        lv2:name \"{}\" ;\n        lv2:default {} ;\n"
        "        lv2:minimum {} ;\n        lv2:maximum {}",
        index, p.symbol, p.name, source_number(p.usual), source_number(p.least),
        source_number(p.most));
    if (p.by_ratio) {
        text += " ;\n        lv2:portProperty pprops:logarithmic";
    }
    if (!p.unit.empty()) {
        text += fmt::format(" ;\n        units:unit units:{}", p.unit == "Hz" ? "hz" : "db");
    }
    return text + "\n    ]";
}

std::string description_text(const Instrument& instrument) {
    std::string text = fmt::format(
        "@prefix doap: <http://usefulinc.com/ns/doap#> .\n"
        "@prefix lv2: <http://lv2plug.in/ns/lv2core#> .\n"
        "@prefix pprops: <http://lv2plug.in/ns/ext/port-props#> .\n"
        "@prefix units: <http://lv2plug.in/ns/extensions/units#> .\n\n"
        "<{}>\n    a lv2:Plugin , lv2:{} ;\n    doap:name \"{}, {}\" ;\n"
        "    doap:license <https://spdx.org/licenses/0BSD> ;\n"
        "    lv2:minorVersion 0 ;\n    lv2:microVersion 0 ;\n"
        "    lv2:optionalFeature lv2:hardRTCapable ;\n"
        "    lv2:port [\n        a lv2:InputPort , lv2:AudioPort ;\n        lv2:index 0 ;\n"
        "        lv2:symbol \"in\" ;\n        lv2:name \"In\"\n    ] , [\n"
        "        a lv2:OutputPort , lv2:AudioPort ;\n        lv2:index 1 ;\n"
        "        lv2:symbol \"out\" ;\n        lv2:name \"Out\"\n    ]",
        uri_of(instrument), instrument.played() != nullptr ? "FilterPlugin" : "EQPlugin",
        instrument.study, instrument.title);
    constexpr std::size_t audio_ports = 2;
    for (std::size_t i = 0; i < instrument.parameters.size(); ++i) {
        text += port_text(instrument.parameters[i], audio_ports + i);
    }
    return text + " .\n";
}

constexpr std::string_view plugin_body = R"code(#include "filter.hpp"

#include <lv2/core/lv2.h>

#include <algorithm>
#include <array>
#include <cstdint>
#include <new>

namespace {

using Filter = FILTER<>;
constexpr std::size_t audio_ports = 2;

struct Plugin {
    Filter filter;
    const float* in = nullptr;
    float* out = nullptr;
    std::array<const float*, Filter::parameters> controls{};
    std::array<float, Filter::parameters> taken{};

    void take_controls() {
        for (std::size_t i = 0; i < controls.size(); ++i) {
            if (controls[i] != nullptr && *controls[i] != taken[i]) {
                taken[i] = *controls[i];
                filter.set(i, static_cast<double>(taken[i]));
            }
        }
    }
};

LV2_Handle instantiate(const LV2_Descriptor*, double rate_hz, const char*,
                       const LV2_Feature* const*) {
    if (Filter::is_of_one_rate && rate_hz != Filter::designed_rate_hz) {
        return nullptr; // its sections are right at that rate alone
    }
    auto* plugin = new (std::nothrow) Plugin;
    if (plugin != nullptr) {
        plugin->filter.prepare(rate_hz);
        for (std::size_t i = 0; i < plugin->taken.size(); ++i) {
            plugin->taken[i] = static_cast<float>(Filter::parameter[i].usual);
        }
    }
    return plugin;
}

void connect_port(LV2_Handle handle, std::uint32_t port, void* data) {
    auto& plugin = *static_cast<Plugin*>(handle);
    if (port == 0) {
        plugin.in = static_cast<const float*>(data);
    } else if (port == 1) {
        plugin.out = static_cast<float*>(data);
    } else if (port - audio_ports < plugin.controls.size()) {
        plugin.controls[port - audio_ports] = static_cast<const float*>(data);
    }
}

void activate(LV2_Handle handle) {
    static_cast<Plugin*>(handle)->filter.reset();
}

void run(LV2_Handle handle, std::uint32_t count) {
    auto& plugin = *static_cast<Plugin*>(handle);
    plugin.take_controls();
    std::array<double, 256> block;
    for (std::uint32_t at = 0; at < count;) {
        const std::size_t some = std::min<std::size_t>(count - at, block.size());
        std::copy_n(plugin.in + at, some, block.begin());
        plugin.filter.process(std::span(block).first(some));
        std::transform(block.begin(), block.begin() + static_cast<std::ptrdiff_t>(some),
                       plugin.out + at, [](double x) { return static_cast<float>(x); });
        at += static_cast<std::uint32_t>(some);
    }
}

void cleanup(LV2_Handle handle) {
    delete static_cast<Plugin*>(handle);
}

} // namespace

extern "C" LV2_SYMBOL_EXPORT const LV2_Descriptor* lv2_descriptor(std::uint32_t index) {
    static const LV2_Descriptor descriptor = {"PLUGIN_URI", instantiate, connect_port, activate, run,
                                              nullptr,      cleanup,     nullptr};
    return index == 0 ? &descriptor : nullptr;
}
)code";

std::string plugin_text(const Instrument& instrument) {
    std::string text = "// An LV2 plug-in of one channel in and one out.\n" + std::string(licence)
                       + with_name(plugin_body, instrument);
    constexpr std::string_view mark = "PLUGIN_URI";
    text.replace(text.find(mark), mark.size(), uri_of(instrument));
    return text;
}

constexpr std::string_view lv2_makefile =
    R"make(# make: the plug-in is built in its bundle; make install puts the bundle where hosts look.
CXX ?= c++
CXXFLAGS ?= -O3
WHERE_BITS_COUNT = -std=c++20 -Wall -Wextra -ffp-contract=off -fno-trapping-math -fno-math-errno
TO ?= $(HOME)/.lv2

plugin.so: plugin.cpp filter.hpp
	$(CXX) $(WHERE_BITS_COUNT) $(CXXFLAGS) -fPIC -fvisibility=hidden -shared -o $@ plugin.cpp $$(pkg-config --cflags lv2)

install: plugin.so
	mkdir -p "$(TO)/$(notdir $(CURDIR))"
	cp plugin.so plugin.ttl manifest.ttl "$(TO)/$(notdir $(CURDIR))"

clean:
	rm -f plugin.so

.PHONY: install clean
)make";

} // namespace

std::span<const std::string_view> instrument_endings() {
    return instrument_files;
}

std::vector<DeliveredText> instrument_texts(const Instrument& instrument) {
    return {{std::string(instrument_files[0]), instrument_header(instrument)},
            {std::string(instrument_files[1]), test_text(instrument)},
            {std::string(instrument_files[2]), host_text(instrument)},
            {std::string(instrument_files[3]), std::string(instrument_makefile)}};
}

std::span<const std::string_view> lv2_endings() {
    return lv2_files;
}

std::vector<DeliveredText> lv2_texts(const Instrument& instrument) {
    return {{std::string(lv2_files[0]), description_text(instrument)},
            {std::string(lv2_files[1]), manifest_text(instrument)},
            {std::string(lv2_files[2]), instrument_header(instrument)},
            {std::string(lv2_files[3]), plugin_text(instrument)},
            {std::string(lv2_files[4]), std::string(lv2_makefile)}};
}

} // namespace syntonon
