// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/plumb_line.h"

namespace syntonon {

void PlumbLine::set(std::optional<double> hz) {
    if (hz_ != hz) {
        hz_ = hz;
        emit changed();
    }
}

void PlumbLine::pin(bool pinned) {
    is_pinned_ = pinned && hz_.has_value();
    if (!is_pinned_) {
        second_hz_.reset();
    }
    emit changed();
}

void PlumbLine::set_second(std::optional<double> hz) {
    if (second_hz_ != hz && (is_pinned_ || !hz)) {
        second_hz_ = hz;
        emit changed();
    }
}

void PlumbLine::take_away() {
    hz_.reset();
    second_hz_.reset();
    is_pinned_ = false;
    emit changed();
}

} // namespace syntonon
