// What a device answers besides values (AES70-2, OcaStatus).
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <cstdint>
#include <string_view>

namespace syntonon::oca {

enum class Status : std::uint8_t {
    ok,
    protocol_version_error,
    device_error,
    locked,
    bad_format,
    bad_object,
    parameter_error,
    parameter_out_of_range,
    not_implemented,
    invalid_request,
    processing_failed,
    bad_method,
    partially_succeeded,
    timeout,
    buffer_overflow,
    permission_denied
};

// "out of its range"; also of numbers that the standard does not have.
std::string_view words_of(Status status);
// Of a method called on an object: why it is refused and what to do; without a place.
Problem refusal(Status status);

} // namespace syntonon::oca
