// What the files of a delivery hold.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/delivered_channel.h"
#include "core/exchange/source_writers.h"

#include <string>
#include <vector>

namespace syntonon {

// All of a format's endings, the main file's first: a Verilog delivery has six.
std::vector<std::string> endings_of(const Delivery& delivery);

// Their texts, for one channel; `stem` is their names' beginning. Refused as the writers refuse.
Expected<std::vector<DeliveredText>>
delivered_texts(const DeliveredChannel& channel, const Delivery& delivery, const std::string& stem);

// The same of formats that are of stages (see layout.h), which need no numbers of sections.
Expected<std::vector<DeliveredText>> texts_of_stages(const Study& study, const Channel& channel,
                                                     const Delivery& delivery, Briefs& briefs);

// Whether read_coefficients() understands the main file.
bool is_read_back(const DeliveredChannel& channel, const Delivery& delivery);

} // namespace syntonon
