// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/processor_commands.h"

#include "app/widgets/shown_number.h"
#include "app/widgets/words.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon {
namespace {

auto place_of(std::vector<SharedValue<Processor>>& processors, const std::string& id) {
    return std::ranges::find_if(processors, [&](const auto& each) { return each->id == id; });
}

} // namespace

Expected<void> put_processor(Session& session, const Processor& processor, const QString& what) {
    if (auto ok = check(processor); !ok) {
        return ok;
    }
    session.edit(
        tr("Processor %1: %2").arg(shown_words(processor.name), what),
        [&](Study& study) {
            const auto place = place_of(study.processors, processor.id);
            if (place == study.processors.end()) {
                study.processors.emplace_back(processor);
            } else {
                *place = SharedValue<Processor>(processor);
            }
        },
        session.continuing_gesture(QString::fromStdString(processor.id) + what));
    return {};
}

void remove_processor(Session& session, const std::string& id) {
    if (is_own_processor(session.study(), id)) {
        session.edit(tr("Remove the study's own processor %1").arg(QString::fromStdString(id)),
                     [&](Study& study) { study.processors.erase(place_of(study.processors, id)); });
    }
}

std::string copy_processor(Session& session, const Processor& processor) {
    Processor copy = processor;
    for (int number = 2;; ++number) {
        copy.id = fmt::format("{}-{}", processor.id, number);
        if (processor_of(session.study(), copy.id) == nullptr) {
            copy.name = fmt::format("{} {}", processor.name, number);
            break;
        }
    }
    session.edit(tr("Copy processor %1").arg(shown_words(processor.name)),
                 [&](Study& study) { study.processors.emplace_back(copy); });
    return copy.id;
}

bool is_own_processor(const Study& study, const std::string& id) {
    return std::ranges::any_of(study.processors, [&](const auto& each) { return each->id == id; });
}

} // namespace syntonon
