// The chains that the selected channel's own is compared with on the bench, seen and heard.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/filter/filter.h"

#include <QString>
#include <string>
#include <vector>

namespace syntonon {

struct ChainName {
    std::string key; // as Bench::compared has it
    QString name;    // of the take, channel or words
};
// The channel's takes, the other sampled channels, the channel itself in the words of deliveries.
std::vector<ChainName> comparable_chains(const Session& session);
// That name; the key itself of one that is not there.
QString chain_name(const Session& session, const std::string& key);
struct ChainCompared {
    Filter chain;
    // Words that were searched are of another design: these are the nearest ones.
    bool is_out_of_date = false;
};
// Refused when it is not there or cannot be designed.
Expected<ChainCompared> chain_compared(Session& session, const std::string& key);

bool is_compared(const Session& session, const std::string& key);
void compare_with(Session& session, const std::string& key, bool compares);

} // namespace syntonon
