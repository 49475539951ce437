// How the batch commands get at what they are asked about.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "batch/commands.h"
#include "core/filter/filter.h"
#include "core/study/analysis.h"
#include "core/word/word_chain.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon::batch {

// As many digits as bring the same double back.
std::string exact(double value);
// A cell of CSV (RFC 4180) on one line: in quotes where a comma or a quote stands in it.
std::string cell(std::string_view text);

// Refused with the ids that there are.
Expected<const Channel*> find_channel(const Study& study, const std::string& id);

// True once it is written.
Expected<bool> done(const Expected<void>& written);

std::vector<ChannelView> all_channels(const Study& study);
// Makes what takes long, with progress on a terminal; what is quick is made when it is asked for.
void finish(Opened& opened, const std::vector<ChannelView>& views);

// One stage, which may be switched off.
Expected<DesignedStage> design_stage(Opened& opened, const Channel& channel, const std::string& id);
Expected<const Delivery*> find_delivery(const Study& study, const std::string& id);
// In the words of the delivery that the study was opened for; nothing where it is as designed.
Expected<std::optional<WordChain>> words_of(Opened& opened, const Channel& channel);
// The whole chain, in those words where there are any, or the one stage that is named.
Expected<Filter> filter_of(Opened& opened, const Channel& channel, const std::string& stage);

} // namespace syntonon::batch
