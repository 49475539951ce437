// SPDX-License-Identifier: GPL-3.0-or-later
// What the bench makes heard of a channel: its signal through its chain, notes in voices of their
// own.
#include "batch/access.h"
#include "batch/sound_out.h"
#include "core/design/modelled_filter.h"
#include "core/engine/render.h"
#include "core/exchange/study_signal.h"
#include "core/study/compared_chain.h"
#include "core/study/playing.h"

#include <fmt/format.h>

namespace syntonon::batch {
namespace {

// The channel's own, or that of state-variable filters in its ladders' places, or another
// channel's.
Expected<Filter> chain_to_play(Opened& opened, const Channel& channel, const std::string& key) {
    auto own = filter_of(opened, channel, "");
    if (key.empty() || !own) {
        return own;
    }
    const auto compared = compared_chain(opened.study, channel, key);
    if (!compared) {
        return tl::unexpected(within("--instead", compared.error()));
    }
    if (compared->state_variables) {
        const auto plain = with_state_variables(*own, Axis(opened.study.sample_rate_hz));
        return plain ? Expected<Filter>(*plain)
                     : refuse("--instead", "there is no ladder in the chain", "leave it out");
    }
    if (compared->channel != nullptr) {
        return filter_of(opened, *compared->channel, "");
    }
    return refuse("--instead", fmt::format("“{}” is not played here", key),
                  "say state_variables or channel:<id>");
}

} // namespace

Expected<bool> play(Opened& opened, Output& out, const std::string& channel_id,
                    const std::string& instead, const SoundCoding& file) {
    const auto channel = find_channel(opened.study, channel_id);
    if (!channel) {
        return tl::unexpected(channel.error());
    }
    const Signal* signal = signal_of(opened.study, (*channel)->bench.signal);
    if (signal == nullptr) {
        return refuse("channel " + channel_id, "its bench sends no signal",
                      "choose one on the desk Listen, or set bench.signal");
    }
    const auto chain = chain_to_play(opened, **channel, instead);
    if (!chain) {
        return tl::unexpected(chain.error());
    }
    const double rate_hz = opened.study.sample_rate_hz;
    const auto samples = samples_of_signal(opened.study, signal->id,
                                           std::filesystem::path(opened.path).parent_path());
    if (!samples) {
        return tl::unexpected(samples.error());
    }
    const Filter heard =
        as_played(*chain, playing_of(signal->recipe, (*channel)->bench.modulation), rate_hz);
    const auto rendered = render(heard, samples->samples, 0);
    if (!rendered) {
        return tl::unexpected(within("channel " + channel_id, rendered.error()));
    }
    if (rendered->runs_away_at) {
        return refuse("channel " + channel_id, "its output grows without end",
                      "see the roots command, and mend the chain");
    }
    auto writer = SoundOut::create(file, {rate_hz, 1, 0});
    if (!writer) {
        return tl::unexpected(writer.error());
    }
    return done(writer->write(rendered->out).and_then([&] { return writer->finish(out); }));
}

} // namespace syntonon::batch
