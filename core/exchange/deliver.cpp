// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/deliver.h"

#include "core/base/file.h"
#include "core/exchange/delivered_files.h"
#include "core/exchange/file_pattern.h"
#include "core/exchange/form_text.h"
#include "core/study/channel_parts.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <system_error>
#include <utility>

namespace syntonon {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t most_bytes = 64'000'000;

std::vector<const Channel*> channels_of(const Study& study, const Delivery& delivery,
                                        std::vector<Problem>& missing) {
    std::vector<const Channel*> channels;
    if (delivery.channels.empty()) {
        for (const auto& channel : study.channels) {
            if (channel->domain == Domain::sampled) { // analog ones are not for processors
                channels.push_back(&*channel);
            }
        }
    }
    for (const std::string& id : delivery.channels) {
        if (const Channel* channel = channel_of(study, id)) {
            channels.push_back(channel);
        } else {
            missing.push_back({fmt::format("delivery {}", delivery.id),
                               fmt::format("there is no channel “{}”", id),
                               "name one of the study's channels"});
        }
    }
    return channels;
}

// Without their endings.
Expected<std::string> stem_of(const Study& study, const Delivery& delivery,
                              const Channel& channel) {
    const Processor* processor = processor_of(study, delivery.processor);
    const std::pair<std::string_view, std::string> values[] = {
        {"study", study.name},
        {"channel", channel.name},
        {"channel_id", channel.id},
        {"delivery", delivery.name},
        {"rate", fmt::format("{}", study.sample_rate_hz)},
        {"processor", processor != nullptr ? processor->name : std::string("none")},
        {"structure", std::string(named(structures(), delivery.structure).key)},
        {"format", std::string(key_of(delivery.layout.format))}};
    auto stem = file_stem(delivery.file_pattern, values);
    return stem ? stem : tl::unexpected(within("delivery " + delivery.id, stem.error()));
}

// Of one channel; none where its pattern makes none.
std::vector<std::string> file_names(const Study& study, const Delivery& delivery,
                                    const Channel& channel) {
    std::vector<std::string> names;
    if (const auto stem = stem_of(study, delivery, channel)) {
        for (const std::string& ending : endings_of(delivery)) {
            names.push_back(*stem + ending);
        }
    }
    return names;
}

Problem same_file(std::string place, const std::string& name, const Delivery& other,
                  const Channel& channel) {
    return {std::move(place),
            fmt::format("its file {} is also that of channel {} in delivery {}", name, channel.id,
                        other.id),
            "give channels and deliveries names that differ in letters or digits, and name the "
            "channel in the files' pattern"};
}

// Its own files against each other, and against those of the study's other deliveries.
Expected<void> check_file_names(const Study& study, const Delivery& delivery,
                                const std::vector<const Channel*>& channels) {
    std::map<std::string, const Channel*> names;
    for (const Channel* channel : channels) {
        if (auto stem = stem_of(study, delivery, *channel); !stem) {
            return tl::unexpected(stem.error());
        }
        for (const std::string& name : file_names(study, delivery, *channel)) {
            const auto [there, is_new] = names.emplace(name, channel);
            if (!is_new) {
                return tl::unexpected(
                    same_file("channel " + channel->id, name, delivery, *there->second));
            }
        }
    }
    for (const Delivery& other : study.deliveries) {
        if (other.id == delivery.id) {
            continue;
        }
        std::vector<Problem> missing;
        for (const Channel* channel : channels_of(study, other, missing)) {
            for (const std::string& name : file_names(study, other, *channel)) {
                if (names.contains(name)) {
                    return tl::unexpected(
                        same_file("delivery " + delivery.id, name, other, *channel));
                }
            }
        }
    }
    return {};
}

Delivery standard(const char* id, FileFormat format, NumberType number, int digits) {
    Delivery delivery;
    delivery.id = delivery.name = id;
    delivery.layout.format = format;
    delivery.layout.number = number;
    delivery.layout.digits = digits;
    return delivery;
}

Expected<void> make_folder(const fs::path& folder) {
    std::error_code error;
    fs::create_directories(folder, error);
    if (error || !fs::is_directory(folder)) {
        return refuse(folder.string(),
                      error ? "cannot be made: " + error.message() : "is not a folder",
                      "choose another folder");
    }
    return {};
}

// The file as it came back from the disk.
Expected<std::optional<Deviation>> compared(const PlannedFile& file, const std::string& bytes) {
    if (bytes != file.text) {
        return refuse("", "does not hold what was written", "write it again");
    }
    if (!file.held) {
        return std::nullopt;
    }
    CoefficientSet held = *file.held;
    if (file.is_read_back) {
        auto read = read_coefficients(bytes);
        if (!read) {
            return tl::unexpected(read.error());
        }
        // What was written, number by number; then what the words make of the design.
        if (const auto same = deviation_between(held, read->set); !same) {
            return tl::unexpected(same.error());
        }
        held = std::move(read->set);
    }
    const auto deviation = file.are_words ? level_deviation_between(file.set, held)
                                          : deviation_between(file.set, held);
    return deviation ? Expected<std::optional<Deviation>>(*deviation)
                     : tl::unexpected(deviation.error());
}

} // namespace

std::vector<Problem> problems_of_files(const Study& study) {
    std::vector<Problem> problems;
    std::map<std::string, std::pair<const Delivery*, const Channel*>> names;
    for (std::size_t i = 0; i < study.deliveries.size(); ++i) {
        const Delivery& delivery = study.deliveries[i];
        std::vector<Problem> missing;
        const std::string place = fmt::format("deliveries[{}]", i);
        if (delivery.layout.format == FileFormat::form) {
            if (auto ok = check_form(delivery.form); !ok) {
                problems.push_back(within(place, ok.error()));
            }
        }
        std::optional<Problem> clash; // one a delivery says enough
        for (const Channel* channel : channels_of(study, delivery, missing)) {
            if (const auto stem = stem_of(study, delivery, *channel); !stem && !clash) {
                clash = within(place,
                               Problem{"file_pattern", stem.error().reason, stem.error().way_out});
            }
            for (const std::string& name : file_names(study, delivery, *channel)) {
                const auto [there, is_new] = names.emplace(name, std::pair(&delivery, channel));
                if (!is_new && !clash) {
                    clash = same_file(place + ".name", name, *there->second.first,
                                      *there->second.second);
                }
            }
        }
        if (clash) {
            problems.push_back(*clash);
        }
    }
    return problems;
}

Expected<std::vector<PlannedFile>> plan_delivery(const Study& study, const Delivery& delivery,
                                                 const fs::path& folder, Briefs& briefs) {
    std::vector<Problem> missing;
    const auto channels = channels_of(study, delivery, missing);
    if (!missing.empty()) {
        return tl::unexpected(missing.front());
    }
    if (auto ok = check_file_names(study, delivery, channels); !ok) {
        return tl::unexpected(ok.error());
    }
    std::vector<PlannedFile> files;
    for (const Channel* channel : channels) {
        if (is_of_stages(delivery.layout.format)) {
            auto texts = texts_of_stages(study, *channel, delivery, briefs);
            if (!texts) {
                return tl::unexpected(texts.error());
            }
            const auto stem = stem_of(study, delivery, *channel);
            for (DeliveredText& text : *texts) {
                files.push_back(
                    {folder / (*stem + text.ending), std::move(text.text), channel->id, {}});
            }
            continue;
        }
        const auto delivered = delivered_channel(study, delivery, *channel, briefs);
        if (!delivered) {
            return tl::unexpected(delivered.error());
        }
        const auto stem = stem_of(study, delivery, *channel);
        auto texts = delivered_texts(*delivered, delivery, *stem);
        if (!texts) {
            return tl::unexpected(of_channel(channel->id, texts.error()));
        }
        for (DeliveredText& text : *texts) {
            PlannedFile file{folder / (*stem + text.ending), std::move(text.text), channel->id,
                             delivered->set};
            if (&text == &texts->front()) {
                file.held = set_of_words(*delivered);
                file.are_words = delivered->words.has_value();
                file.is_read_back = is_read_back(*delivered, delivery);
            }
            files.push_back(std::move(file));
        }
    }
    return files;
}

std::vector<fs::path> existing_among(const std::vector<PlannedFile>& files) {
    std::vector<fs::path> there;
    for (const PlannedFile& file : files) {
        std::error_code error;
        if (fs::exists(fs::symlink_status(file.path, error))) {
            there.push_back(file.path);
        }
    }
    return there;
}

Expected<std::vector<DeliveredFile>> write_delivery(const std::vector<PlannedFile>& files,
                                                    Existing existing) {
    if (existing == Existing::refuse) {
        if (const auto there = existing_among(files); !there.empty()) {
            return refuse(there.front().string(),
                          there.size() == 1
                              ? "exists already"
                              : fmt::format("and {} more exist already", there.size() - 1),
                          "allow replacing them or choose another folder; nothing was written");
        }
    }
    // On a full disk none of them is another one than before: modules and memories belong together.
    std::vector<StagedFile> staged;
    for (const PlannedFile& file : files) {
        if (auto ok = make_folder(file.path.parent_path()); !ok) {
            return tl::unexpected(ok.error());
        }
        auto written = StagedFile::write(file.path, file.text, Links::replace);
        if (!written) {
            return tl::unexpected(written.error());
        }
        staged.push_back(std::move(*written));
    }
    for (StagedFile& file : staged) {
        if (auto ok = file.put_in_place(); !ok) {
            return tl::unexpected(ok.error());
        }
    }
    std::vector<DeliveredFile> delivered;
    for (const PlannedFile& file : files) {
        const auto bytes = read_file(file.path, most_bytes);
        if (!bytes) {
            return tl::unexpected(bytes.error());
        }
        auto deviation = compared(file, *bytes);
        if (!deviation) {
            return tl::unexpected(in_file(file.path.string(), deviation.error()));
        }
        delivered.push_back({file.path, *deviation});
    }
    return delivered;
}

const std::vector<Delivery>& standard_deliveries() {
    static const std::vector<Delivery> deliveries = {
        standard("table", FileFormat::csv, NumberType::real64, 17),
        standard("json", FileFormat::json, NumberType::real64, 17),
        standard("c-double", FileFormat::c_header, NumberType::real64, 17),
        standard("c-float", FileFormat::c_header, NumberType::real32, 9),
    };
    return deliveries;
}

} // namespace syntonon
