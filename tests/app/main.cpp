// The window's tests: settings and recovery copies go to a folder of their own.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/theme.h"
#include "tests/support/scratch.h"

#include <QApplication>
#include <QSettings>
#include <gtest/gtest.h>

int main(int argc, char** argv) {
    testing::InitGoogleTest(&argc, argv);
    const syntonon::test::Scratch scratch;
    // A program that a test starts shares the folder of its starter.
    const QByteArray shared = qgetenv("SYNTONON_TEST_HOME");
    const QByteArray home = shared.isEmpty() ? QByteArray(scratch.folder().c_str()) : shared;
    qputenv("SYNTONON_TEST_HOME", home);
    qputenv("HOME", home);
    qputenv("XDG_CONFIG_HOME", home + "/config");
    qputenv("XDG_DATA_HOME", home + "/data");
    qputenv("XDG_STATE_HOME", home + "/state");
    if (!qEnvironmentVariableIsSet("QT_QPA_PLATFORM")) {
        qputenv("QT_QPA_PLATFORM", "offscreen");
    }
    QApplication application(argc, argv);
    QApplication::setApplicationName("syntonon");
    syntonon::use_theme(application, syntonon::ThemeName::paper);
    return RUN_ALL_TESTS();
}
