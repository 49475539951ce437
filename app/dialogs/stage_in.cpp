// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dialogs/stage_in.h"

#include "app/dialogs/taps_in_dialog.h"
#include "app/model/stage_commands.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/study/kinds.h"
#include "core/study/stage_file.h"

#include <QFileInfo>

namespace syntonon {
namespace {

bool is_stage_file(const QString& path) {
    return path.endsWith(QString::fromUtf8(stage_file_ending.data(), stage_file_ending.size()));
}

Expected<QString> add_saved_stage(Session& session, const QString& path) {
    return load_stage(path.toStdString()).map([&](const StageFile& file) {
        add_stages(session, spoken_name(file.stage), {SharedValue<Stage>(file.stage)});
        const double rate = session.study().sample_rate_hz;
        QStringList words;
        if (file.sample_rate_hz != rate) {
            words << tr("It was saved at %1: what is stated in Hz stays where it was; taps, roots "
                        "and coefficients move")
                         .arg(QString::fromStdString(frequency_text(file.sample_rate_hz, 6)));
        }
        for (const std::string& warning : file.warnings) {
            words << QString::fromStdString(warning);
        }
        return words.join("; ");
    });
}

Expected<std::optional<QString>> add_taps(Session& session, const QString& path, QWidget* parent) {
    const auto taken = taps_of_file(session, path, parent);
    if (!taken) {
        return tl::unexpected(taken.error());
    }
    if (!*taken) {
        return std::nullopt;
    }
    Stage stage;
    stage.name = QFileInfo(path).completeBaseName().toStdString();
    stage.spec = TapsSpec{std::make_shared<const std::vector<double>>((*taken)->taps)};
    if (const auto filter = session.try_design(stage.spec); !filter) {
        return tl::unexpected(in_file(path.toStdString(), filter.error()));
    }
    add_stages(session, spoken_name(stage), {SharedValue<Stage>(stage)});
    return std::optional((*taken)->words);
}

} // namespace

bool holds_a_stage(const QString& path) {
    return is_stage_file(path) || is_sound_file(path.toStdString());
}

Expected<std::optional<QString>> add_stage_from_file(Session& session, const QString& path,
                                                     QWidget* parent) {
    if (session.channel() == nullptr) {
        return refuse("", "there is no channel to put the stage into", "add one");
    }
    return is_stage_file(path) ? add_saved_stage(session, path).map([](const QString& words) {
        return std::optional(words);
    })
                               : add_taps(session, path, parent);
}

} // namespace syntonon
