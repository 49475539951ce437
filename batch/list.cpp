// SPDX-License-Identifier: GPL-3.0-or-later
// What a study holds, by the ids that other commands ask for.
#include "batch/access.h"
#include "core/study/chain.h"

#include <fmt/format.h>

namespace syntonon::batch {
namespace {

class Rows {
public:
    void add(std::string_view part, std::string_view of, std::string_view id,
             std::string_view name) {
        text_ += fmt::format("{},{},{},{}\n", part, cell(of), cell(id), cell(name));
    }
    template <class Parts>
    void add_all(std::string_view part, const Parts& parts) {
        for (const auto& each : parts) {
            add(part, "", each->id, each->name);
        }
    }
    void add_channel(const Channel& channel) {
        add("channel", "", channel.id, channel.name);
        visit_stages(channel.stages, [&](const Stage& stage, const Slot&, int) {
            add("stage", channel.id, stage.id, title_of(stage));
        });
        for (const auto& take : channel.takes) {
            add("take", channel.id, take->id, take->name);
        }
    }
    const std::string& text() const { return text_; }

private:
    std::string text_ = "part,of,id,name\n";
};

} // namespace

Expected<bool> list(Opened& opened, Output& out) {
    const Study& study = opened.study;
    Rows rows;
    rows.add_all("curve", study.curves);
    rows.add_all("goal", study.goals);
    rows.add_all("signal", study.test_signals);
    for (const auto& channel : study.channels) {
        rows.add_channel(*channel);
    }
    rows.add_all("processor", study.processors);
    for (const Delivery& delivery : study.deliveries) {
        rows.add("delivery", "", delivery.id, delivery.name);
    }
    return done(out.write(rows.text()));
}

} // namespace syntonon::batch
