// SPDX-License-Identifier: GPL-3.0-or-later
// Coefficients of others: what a file holds, and stages of it.
#include "batch/access.h"
#include "core/base/json.h"
#include "core/exchange/found_coefficients.h"
#include "core/exchange/study_folder.h"
#include "core/study/processor_json.h"
#include "core/study/spec_json.h"

#include <filesystem>
#include <fmt/format.h>

namespace syntonon::batch {
namespace {

template <class T>
Expected<void> put_choice(std::optional<T>& into, const char* option, const std::string& key,
                          std::optional<T> (*from_key)(std::string_view), const char* way_out) {
    if (key.empty()) {
        return {};
    }
    into = from_key(key);
    return into ? Expected<void>() : refuse(option, fmt::format("“{}” is not known", key), way_out);
}

Expected<CoefficientReading> reading_of(const Study& study, const RecogniseCall& call) {
    CoefficientReading reading;
    if (!call.processor.empty()) {
        const auto processor = processor_by_name(study, call.processor);
        if (!processor) {
            return tl::unexpected(within("--processor", processor.error()));
        }
        reading = reading_for(*processor);
    }
    if (!call.word.empty()) {
        const auto word = word_from_text(call.word);
        if (!word) {
            return tl::unexpected(within("--word", word.error()));
        }
        reading.words = reading.tap_words = HeldWord{*word};
    }
    if (!call.order.empty()) {
        auto order = order_from_text(call.order);
        if (!order) {
            return tl::unexpected(within("--order", order.error()));
        }
        reading.order = std::move(*order);
    }
    auto ok = put_choice(reading.as, "--as", call.as, coefficients_as_from_key,
                         "use sections, fraction or taps");
    ok = ok ? put_choice(reading.feedback, "--feedback", call.feedback, feedback_sign_from_key,
                         "use subtracted or added")
            : ok;
    return ok ? Expected<CoefficientReading>(reading) : tl::unexpected(ok.error());
}

std::string said_word(const HeldWord& held) {
    return text_of(held.word) + (held.shift != 0 ? fmt::format(" times 2^{}", held.shift) : "");
}

std::string text_of_found(const FoundCoefficients& found, const Chain& stages) {
    Json json;
    json.set("as", key_of(found.as));
    json.set("sections", static_cast<int>(found.fractions.size()));
    json.set("taps", static_cast<int>(found.taps.size()));
    json.set("delay_samples", static_cast<double>(found.delay_samples));
    json.set("feedback", key_of(found.convention.feedback));
    if (!found.convention.order.empty()) {
        json.set("order", order_text(found.convention.order));
    }
    if (found.words) {
        json.set("word", said_word(*found.words));
    }
    if (found.sample_rate_hz) {
        json.set("sample_rate_hz", *found.sample_rate_hz);
    }
    json.set("pole_radius", found.sign.radius);
    json.set("pole_radius_of_other_sign", found.sign.other_radius);
    json.set("sign_is_suspect", found.sign.is_suspect());
    Json notes = Json::list();
    for (const std::string& note : found.notes) {
        notes.add(note);
    }
    json.set("notes", std::move(notes));
    json.set("stages", chain_json(stages));
    return json.text() + "\n";
}

// Behind the last stage of the channel.
Expected<Study> with_stages(const Study& study, const std::string& channel_id,
                            const Chain& stages) {
    const auto found = find_channel(study, channel_id);
    if (!found) {
        return tl::unexpected(found.error());
    }
    if ((*found)->domain == Domain::analog) {
        return refuse("--channel", fmt::format("“{}” is analog and has no samples", channel_id),
                      "name a sampled one");
    }
    Study changed = study;
    for (auto& channel : changed.channels) {
        if (channel->id == channel_id) {
            for (const auto& stage : stages) {
                Stage own = *stage;
                give_fresh_ids(own, channel->stages);
                channel.edit().stages.emplace_back(std::move(own));
            }
        }
    }
    return changed;
}

} // namespace

Expected<bool> recognise(Opened& opened, Output& out, const RecogniseCall& call) {
    const auto reading = reading_of(opened.study, call);
    if (!reading) {
        return tl::unexpected(reading.error());
    }
    const auto found = found_coefficients_in_file(call.file, *reading);
    if (!found) {
        return tl::unexpected(found.error());
    }
    if (const auto filter = filter_of(*found, opened.study.sample_rate_hz); !filter) {
        return tl::unexpected(in_file(call.file, filter.error()));
    }
    const Chain stages = chain_of(*found, std::filesystem::path(call.file).stem().string());
    if (!call.to.empty()) {
        if (found->sample_rate_hz && *found->sample_rate_hz != opened.study.sample_rate_hz) {
            fmt::print(stderr, "{}: made for {} Hz, the study runs at {} Hz: frequencies move\n",
                       call.file, *found->sample_rate_hz, opened.study.sample_rate_hz);
        }
        const auto changed = with_stages(opened.study, call.channel, stages);
        if (!changed) {
            return tl::unexpected(changed.error());
        }
        if (auto saved = save_study_and_responses(*changed, call.to); !saved) {
            return tl::unexpected(saved.error());
        }
    }
    return done(out.write(text_of_found(*found, stages)));
}

} // namespace syntonon::batch
