// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/goal/target_form.h"

namespace syntonon {

TargetForm form_of(const Target& target) {
    if (target.house) {
        return by_house;
    }
    return target.source ? static_cast<TargetForm>(by_curve + static_cast<int>(target.source->kind))
                         : by_points;
}

std::vector<std::pair<QString, QString>> followable(const Study& study, TargetForm form) {
    std::vector<std::pair<QString, QString>> all;
    const auto add = [&](const std::string& text, const std::string& id) {
        all.emplace_back(QString::fromStdString(text), QString::fromStdString(id));
    };
    if (form == by_curve) {
        for (const auto& curve : study.curves) {
            add(curve->name, curve->id);
        }
        return all;
    }
    for (const auto& channel : study.channels) {
        if (form == by_channel) {
            add(channel->name, channel->id);
        } else if (form == by_take) {
            for (const auto& take : channel->takes) {
                add(channel->name + ": " + take->name, channel->id + "/" + take->id);
            }
        } else {
            visit_stages(channel->stages, [&](const Stage& stage, const Slot&, int) {
                add(channel->name + ": " + title_of(stage) + " " + summary_of(stage),
                    channel->id + "/" + stage.id);
            });
        }
    }
    return all;
}

QString name_of(const TargetSource& source) {
    switch (source.kind) {
    case TargetSource::Kind::curve:
        return QString::fromStdString(source.curve);
    case TargetSource::Kind::channel:
        return QString::fromStdString(source.channel);
    case TargetSource::Kind::take:
        return QString::fromStdString(source.channel + "/" + source.take);
    case TargetSource::Kind::stage:
        return QString::fromStdString(source.channel + "/" + source.stage);
    }
    return {};
}

TargetSource source_from(TargetForm form, const QString& name, double smoothing_oct) {
    TargetSource source;
    source.kind = static_cast<TargetSource::Kind>(form - by_curve);
    source.smoothing_oct = smoothing_oct;
    const auto slash = name.lastIndexOf('/');
    const std::string first = name.left(slash).toStdString(),
                      second = name.mid(slash + 1).toStdString();
    if (form == by_curve) {
        source.curve = name.toStdString();
    } else if (form == by_channel) {
        source.channel = name.toStdString();
    } else {
        source.channel = first;
        (form == by_take ? source.take : source.stage) = second;
    }
    return source;
}

} // namespace syntonon
