// SPDX-License-Identifier: GPL-3.0-or-later
// Test signals as sound files.
#include "batch/access.h"
#include "batch/sound_out.h"
#include "core/base/number_text.h"
#include "core/exchange/study_signal.h"
#include "core/signal/make_signal.h"
#include "core/study/signal_json.h"

#include <fmt/format.h>

namespace syntonon::batch {
namespace {

Expected<bool> write_signal(Output& out, const std::vector<double>& samples, double sample_rate_hz,
                            const SoundCoding& file) {
    auto writer = SoundOut::create(file, {sample_rate_hz, 1, 0});
    if (!writer) {
        return tl::unexpected(writer.error());
    }
    auto finished = writer->write(samples).and_then([&] { return writer->finish(out); });
    return done(finished);
}

Expected<double> rate_from(const std::string& text) {
    const auto rate = number_from_text(text);
    if (!rate || !(*rate >= 1 && *rate <= 1e7)) {
        return refuse("--sample-rate", fmt::format("“{}” is no sample rate", text),
                      "give one in Hz");
    }
    return *rate;
}

} // namespace

Expected<bool> signal(Opened& opened, Output& out, const std::string& id, const SoundCoding& file) {
    if (signal_of(opened.study, id) == nullptr) {
        std::string known;
        for (const auto& one : opened.study.test_signals) {
            known += (known.empty() ? "" : ", ") + one->id;
        }
        return refuse("--signal", fmt::format("there is no signal “{}”", id),
                      known.empty() ? "the study has none: say --recipe" : "use one of: " + known);
    }
    const auto made =
        samples_of_signal(opened.study, id, std::filesystem::path(opened.path).parent_path());
    if (!made) {
        return tl::unexpected(made.error());
    }
    for (const std::string& remark : made->remarks) {
        fmt::print(stderr, "{}\n", one_line(remark));
    }
    return write_signal(out, made->samples, opened.study.sample_rate_hz, file);
}

Expected<bool> signal_by_recipe(Output& out, const RecipeCall& call, const SoundCoding& file) {
    const auto recipe = recipe_from_json(call.json);
    if (!recipe) {
        return tl::unexpected(in_file("--recipe", recipe.error()));
    }
    const auto rate = rate_from(call.sample_rate_hz);
    if (!rate) {
        return tl::unexpected(rate.error());
    }
    const auto length_s = seconds_from("--length", call.length_s);
    if (!length_s) {
        return tl::unexpected(length_s.error());
    }
    const auto count = samples_of({LengthUnit::seconds, *length_s}, *rate);
    if (!count) {
        return refuse("--length", count.error().reason, count.error().way_out);
    }
    const auto samples = make_signal(*recipe, {*rate, *count});
    if (!samples) {
        return tl::unexpected(in_file("--recipe", samples.error()));
    }
    return write_signal(out, *samples, *rate, file);
}

} // namespace syntonon::batch
