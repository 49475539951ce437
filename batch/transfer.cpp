// SPDX-License-Identifier: GPL-3.0-or-later
// A study's channels into a device.
#include "core/device/transfer.h"
#include "batch/access.h"
#include "core/device/oca/setting_text.h"

#include <cstdio>
#include <fmt/format.h>

namespace syntonon::batch {
namespace {

void say(const std::string& text) {
    fmt::print(stderr, "{}\n", one_line(text));
}

std::string planned_text(const oca::TransferPlan& plan) {
    std::string text = "channel,stage,object,was,will_be\n";
    for (const oca::PlannedObject& object : plan.objects) {
        if (object.changes()) {
            text += fmt::format("{},{},{},{},{}\n", object.channel, object.stage, cell(object.path),
                                cell(oca::text_of(object.before, object.was_enabled)),
                                cell(oca::text_of(object.after, object.will_be_enabled)));
        }
    }
    return text;
}

std::string reported_text(const oca::TransferReport& report) {
    std::string text = "object,done,what\n";
    for (const oca::TransferStep& step : report.steps) {
        text += fmt::format("{},{},{}\n", cell(step.path), step.is_done ? "yes" : "no",
                            cell(step.what));
    }
    return text;
}

// What came of it, on standard error.
bool tell(const oca::TransferReport& report) {
    if (report.end == oca::TransferEnd::done) {
        say(report.steps.empty()
                ? "nothing differs: the device holds it already"
                : fmt::format("{} objects and {} taps sent, read back and compared in {:.2f} s",
                              report.objects, report.taps, report.seconds));
        return true;
    }
    if (report.problem) {
        say(to_text(*report.problem));
    }
    say(report.end == oca::TransferEnd::rolled_back
            ? "not transferred; the device is as it was before"
            : "not transferred; what the device holds now is not known: read it and send again");
    for (const std::string& path : report.left_muted) {
        say(path + " is left muted");
    }
    return false;
}

} // namespace

Expected<bool> transfer(Opened& opened, Output& out, const TransferCall& call) {
    const auto found = find_delivery(opened.study, call.delivery);
    if (!found) {
        return tl::unexpected(found.error());
    }
    Delivery delivery = **found;
    delivery.device.address = call.device.empty() ? delivery.device.address : call.device;
    if (delivery.device.address.empty()) {
        return refuse("--device", fmt::format("the delivery “{}” names no device", delivery.id),
                      "say its address: --device host:port");
    }
    const auto address = oca::address_from_text(delivery.device.address);
    if (!address) {
        return tl::unexpected(within("--device", address.error()));
    }
    finish(opened, all_channels(opened.study));
    const oca::Connect connect = [&] { return oca::Controller::connect(*address); };
    const auto tree = connect().and_then(
        [](const std::unique_ptr<oca::Controller>& device) { return oca::read_tree(*device); });
    if (!tree) {
        return tl::unexpected(tree.error());
    }
    Briefs& briefs = opened.cache.briefs();
    delivery.device = oca::proposed_target(opened.study, delivery, *tree, briefs);
    const auto plan = oca::plan_transfer(opened.study, delivery, *tree,
                                         oca::map_to_device(opened.study, delivery, *tree, briefs));
    if (!plan) {
        return tl::unexpected(plan.error());
    }
    for (const std::string& note : plan->notes) {
        say(note);
    }
    if (call.dry_run) {
        return done(out.write(planned_text(*plan)));
    }
    const oca::TransferReport report = oca::transfer(connect, *plan);
    if (auto written = out.write(reported_text(report)); !written) {
        return tl::unexpected(written.error());
    }
    return tell(report);
}

} // namespace syntonon::batch
