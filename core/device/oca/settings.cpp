// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/settings.h"

#include <array>

namespace syntonon::oca {

bool has_setting(Kind kind) {
    return kind != Kind::block && kind != Kind::level_sensor;
}

Kind kind_of(const Setting& setting) {
    constexpr std::array kinds = {Kind::gain,
                                  Kind::mute,
                                  Kind::polarity,
                                  Kind::delay,
                                  Kind::parametric_filter,
                                  Kind::classical_filter,
                                  Kind::polynomial_filter,
                                  Kind::fir_filter,
                                  Kind::curve_filter};
    static_assert(kinds.size() == std::variant_size_v<Setting>);
    return kinds[setting.index()];
}

} // namespace syntonon::oca
