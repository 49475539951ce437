// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/headless.h"

#include "app/headless_sounds.h"
#include "app/main_window.h"
#include "app/pictures/demo_pictures.h"
#include "app/pictures/low_pass_pictures.h"
#include "app/pictures/photographer.h"
#include "app/pictures/study_pictures.h"
#include "app/report/channel_report.h"
#include "app/widgets/message_bar.h"
#include "core/base/file.h"
#include "core/exchange/deliver.h"
#include "core/goal/verdict_text.h"
#include "demo/brightwater.h"

#include <QDir>
#include <QEventLoop>
#include <QFileInfo>
#include <QSettings>
#include <QTemporaryDir>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr int exit_wrong = 2;

int fail(const std::string& line) {
    fmt::print(stderr, "{}\n", line);
    return exit_wrong;
}

Expected<void> write_verdict(Session& session, const QString& folder) {
    std::string text;
    for (const auto& channel : session.study().channels) {
        for (const Finding& finding : session.analysis_of(*channel)->verdict) {
            text += line_of(channel->id, finding) + "\n";
        }
    }
    return write_file_atomically((folder + "/verdict.txt").toStdString(), text);
}

// A second run replaces the first one's files.
Expected<void> deliver_all(Session& session, const QString& folder) {
    for (const Delivery& delivery : session.study().deliveries) {
        const auto delivered =
            plan_delivery(session.study(), delivery, folder.toStdString(), session.briefs())
                .and_then([](const std::vector<PlannedFile>& files) {
                    return write_delivery(files, Existing::replace);
                });
        if (!delivered) {
            return tl::unexpected(delivered.error());
        }
        for (const DeliveredFile& file : *delivered) {
            fmt::print("{}: read back, greatest deviation {:.3g}, {:.3g} dB\n", file.path.string(),
                       file.deviation.value_or(Deviation{}).greatest_coefficient,
                       file.deviation.value_or(Deviation{}).greatest_db);
        }
    }
    return {};
}

// Of every measured channel.
Expected<int> write_reports(Session& session, const QString& folder) {
    int count = 0;
    for (const auto& channel : session.study().channels) {
        if (channel->measured.empty()) {
            continue;
        }
        if (!QDir().mkpath(folder)) {
            return refuse(folder.toStdString(), "cannot be made", "choose another folder");
        }
        const auto saved = report_of(session, *channel).and_then([&](const ChannelReport& report) {
            return save_report(report, folder + "/" + name_of_report(report));
        });
        if (!saved) {
            return tl::unexpected(saved.error());
        }
        ++count;
    }
    return count;
}

// Designs that take long are made before anything is pictured.
void wait_for_designs(Session& session) {
    QEventLoop loop;
    const auto quit_when_done = [&] {
        if (session.jobs().empty()) {
            loop.quit();
        }
    };
    QObject::connect(&session, &Session::jobs_changed, &loop, quit_when_done);
    QMetaObject::invokeMethod(&loop, quit_when_done, Qt::QueuedConnection);
    loop.exec();
}

// The example of the manual, where it lies beside the study; false when that has been said.
bool picture_example(const QString& study, const QString& folder) {
    const QString example = QFileInfo(study).dir().filePath("aurora-low-pass.syntonon");
    const QString own = folder + "/aurora-low-pass";
    if (!QFileInfo::exists(example) || !QDir().mkpath(own)) {
        return true;
    }
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    if (!window.open_study(example)) {
        fail(window.message()->text().toStdString());
        return false;
    }
    wait_for_designs(window.session());
    Photographer photographer(own);
    take_low_pass_pictures(window, photographer);
    if (!photographer.failed().isEmpty()) {
        fail(fmt::format("{}: cannot be written; is the disk full?",
                         photographer.failed().toStdString()));
    }
    return photographer.failed().isEmpty();
}

} // namespace

int run_headless(const QString& study, const QString& folder) {
    if (!QDir().mkpath(folder)) {
        return fail(fmt::format("{}: the folder cannot be made; choose another with --out",
                                folder.toStdString()));
    }
    // Nothing that this machine remembers may show in the pictures, nor the other way round.
    const QTemporaryDir settings;
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, settings.path());
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    if (!window.open_study(study)) {
        return fail(window.message()->text().toStdString());
    }
    wait_for_designs(window.session());
    Photographer photographer(folder);
    const bool is_demo = window.session().study() == brightwater_study();
    if (is_demo) {
        take_demo_pictures(window, photographer);
    } else {
        take_channel_pictures(window, photographer);
        take_desk_pictures(window, photographer);
    }
    if (!photographer.failed().isEmpty()) {
        return fail(fmt::format("{}: cannot be written; is the disk full?",
                                photographer.failed().toStdString()));
    }
    if (const auto written = write_verdict(window.session(), folder); !written) {
        return fail(to_text(written.error()));
    }
    if (const auto delivered = deliver_all(window.session(), folder + "/exports"); !delivered) {
        return fail(to_text(delivered.error()));
    }
    const auto reports = write_reports(window.session(), folder + "/reports");
    if (!reports) {
        return fail(to_text(reports.error()));
    }
    const auto sounds = write_bench_sounds(window, folder + "/sounds");
    if (!sounds) {
        return fail(to_text(sounds.error()));
    }
    if (is_demo && !picture_example(study, folder)) {
        return exit_wrong;
    }
    fmt::print("{}: pictures, verdict.txt, exports", folder.toStdString());
    for (const auto& [count, what] :
         {std::pair(*reports, "reports"), std::pair(static_cast<int>(*sounds), "sound files")}) {
        fmt::print("{}", count > 0 ? fmt::format(", {} {}", count, what) : "");
    }
    fmt::print("\n");
    return 0;
}

} // namespace syntonon
