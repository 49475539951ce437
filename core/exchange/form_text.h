// A user's own text with a channel's numbers filled in.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/delivered_channel.h"

#include <string>
#include <string_view>

namespace syntonon {

// The markers are those of the ctemplate library: {{channel}} is replaced, what stands between
// {{#sections}} and {{/sections}} comes once a section, {{! … }} is a remark. Names:
// docs/file-formats.md. Refused, with the place "form, line 12": unknown names, parts that are not
// closed or closed twice, markers that would read other files or change the markers themselves.
Expected<void> check_form(std::string_view form);
Expected<std::string> form_text(const DeliveredChannel& channel, const std::string& delivery,
                                const std::string& form);

} // namespace syntonon
