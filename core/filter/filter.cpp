// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/filter.h"

#include <utility>

namespace syntonon {

Filter::Filter(Cascade cascade)
    : form_(std::move(cascade)), roots_(roots_of(std::get<Cascade>(form_))) {}

Response Filter::response(const FrequencyGrid& grid) const {
    return std::visit([&](const auto& form) { return syntonon::response(form, grid); }, form_);
}

std::vector<double> Filter::magnitude_db(const FrequencyGrid& grid) const {
    return std::visit([&](const auto& form) { return syntonon::magnitude_db(form, grid); }, form_);
}

std::vector<double> Filter::wrapped_phase_rad(const FrequencyGrid& grid) const {
    return std::visit([&](const auto& form) { return syntonon::wrapped_phase_rad(form, grid); },
                      form_);
}

std::vector<double> Filter::group_delay_samples(const FrequencyGrid& grid) const {
    return std::visit([&](const auto& form) { return syntonon::group_delay_samples(form, grid); },
                      form_);
}

double Filter::group_delay_samples_at(double frequency_hz, double sample_rate_hz) const {
    return std::visit(
        [&](const auto& form) {
            return syntonon::group_delay_samples_at(form, frequency_hz, sample_rate_hz);
        },
        form_);
}

ResponsePoint Filter::response_at(double frequency_hz, double sample_rate_hz) const {
    return std::visit(
        [&](const auto& form) { return syntonon::response_at(form, frequency_hz, sample_rate_hz); },
        form_);
}

double Filter::level_db_at(double half_sine_squared, double sine) const {
    return std::visit(
        [&](const auto& form) { return syntonon::level_db_at(form, half_sine_squared, sine); },
        form_);
}

std::vector<double> Filter::impulse_response(std::size_t length) const {
    return std::visit([&](const auto& form) { return syntonon::impulse_response(form, length); },
                      form_);
}

double Filter::latency_samples() const {
    return std::visit([](const auto& form) { return syntonon::latency_samples(form); }, form_);
}

Cost Filter::cost() const {
    return std::visit([](const auto& form) { return syntonon::cost(form); }, form_);
}

} // namespace syntonon
