// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dialogs/stage_in.h"

#include "app/dialogs/coefficients_in_dialog.h"
#include "app/dialogs/taps_in_dialog.h"
#include "app/model/stage_commands.h"
#include "app/widgets/words.h"
#include "core/base/file.h"
#include "core/base/number_text.h"
#include "core/study/kinds.h"
#include "core/study/stage_file.h"

#include <QClipboard>
#include <QFileInfo>
#include <QGuiApplication>
#include <algorithm>
#include <array>

namespace syntonon {
namespace {

constexpr std::size_t most_coefficient_bytes = 64'000'000;

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

Expected<std::optional<QString>> add_coefficients(Session& session, std::string text,
                                                  const QString& from, const QString& name,
                                                  QWidget* parent) {
    CoefficientsInDialog dialog(session, std::move(text), from, name, parent);
    if (dialog.exec() != QDialog::Accepted) {
        return std::nullopt;
    }
    return dialog.words_of_taken();
}

Expected<std::optional<QString>> add_coefficients_of_file(Session& session, const QString& path,
                                                          QWidget* parent) {
    auto bytes = read_file(path.toStdString(), most_coefficient_bytes);
    if (!bytes) {
        return tl::unexpected(bytes.error());
    }
    const QFileInfo file(path);
    return add_coefficients(session, std::move(*bytes), file.fileName(), file.completeBaseName(),
                            parent);
}

// A place for what is sampled.
Expected<void> check_channel(const Session& session) {
    if (session.channel() == nullptr) {
        return refuse("", "there is no channel to put the stage into", "add one");
    }
    return {};
}

Expected<void> check_sampled(const Session& session) {
    return session.axis().is_analog()
               ? refuse("", "coefficients and taps are of samples, and the channel is analog",
                        "map it into a sampled one (Channel menu)")
               : Expected<void>();
}

} // namespace

bool holds_a_stage(const QString& path) {
    return is_stage_file(path) || is_sound_file(path.toStdString())
           || std::ranges::any_of(std::array{".h", ".c", ".hpp", ".cpp", ".hex", ".mem"},
                                  [&](const char* ending) { return path.endsWith(ending); });
}

Expected<std::optional<QString>> add_stage_from_file(Session& session, const QString& path,
                                                     QWidget* parent) {
    if (auto ok = check_channel(session); !ok) {
        return tl::unexpected(ok.error());
    }
    if (is_stage_file(path)) {
        return add_saved_stage(session, path).map([](const QString& words) {
            return std::optional(words);
        });
    }
    if (auto ok = check_sampled(session); !ok) {
        return tl::unexpected(ok.error());
    }
    return is_sound_file(path.toStdString()) ? add_taps(session, path, parent)
                                             : add_coefficients_of_file(session, path, parent);
}

Expected<std::optional<QString>> add_stage_from_clipboard(Session& session, QWidget* parent) {
    const QString text = QGuiApplication::clipboard()->text();
    auto ok = check_channel(session).and_then([&] { return check_sampled(session); });
    if (ok && text.trimmed().isEmpty()) {
        ok = refuse("", "there is no text on the clipboard", "copy coefficients first");
    }
    return ok ? add_coefficients(session, text.toStdString(), tr("the clipboard"), tr("pasted"),
                                 parent)
              : tl::unexpected(ok.error());
}

} // namespace syntonon
