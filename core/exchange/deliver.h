// Handing over: which files, written without losing any, read back and compared.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/coefficients.h"
#include "core/study/delivery.h"
#include "core/study/study.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

// A file as it will be.
struct PlannedFile {
    std::filesystem::path path;
    std::string text;
    std::string channel; // its id
    CoefficientSet set;  // as designed
    // As the file holds it; nothing of those that only accompany another, as a memory's.
    std::optional<CoefficientSet> held = {};
    bool are_words = false;    // and so differs from the design
    bool is_read_back = false; // its numbers, beside its bytes
};

// Patterns that name no file, forms with an error, and files that would overwrite one another: two
// channels of one delivery, or two deliveries. Places as in the study file ("deliveries[1].name").
std::vector<Problem> problems_of_files(const Study& study);

// The files of each channel of the delivery, named by its pattern, in `folder`. Refuses what cannot
// be exported, names that would lead out of the folder, and files that another channel's or
// delivery's would overwrite.
Expected<std::vector<PlannedFile>> plan_delivery(const Study& study, const Delivery& delivery,
                                                 const std::filesystem::path& folder,
                                                 Briefs& briefs);

// Those of the files that are there already.
std::vector<std::filesystem::path> existing_among(const std::vector<PlannedFile>& files);

enum class Existing { refuse, replace };

struct DeliveredFile {
    std::filesystem::path path;
    // Between the design and the file as read back from the disk; of words also what rounding does.
    std::optional<Deviation> deviation;
};

// Makes the folder when it is missing. All files are on the disk before the first takes its
// place; each is then read back and must hold the same bytes. With
// Existing::refuse nothing at all is written when one of the files exists. A symbolic link is
// replaced by the file, never followed.
Expected<std::vector<DeliveredFile>> write_delivery(const std::vector<PlannedFile>& files,
                                                    Existing existing);

// The layouts that every study has: "table" (CSV), "json", "c-double", "c-float".
const std::vector<Delivery>& standard_deliveries();

} // namespace syntonon
