// The page that belongs to a correction alone.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>

namespace syntonon {

class Companion;
class FitChannelsPane;
class FitSeatsPane;
class FitSettingsPane;
class FoundSectionsPane;
class ResultPane;

class CorrectionPage : public QWidget {
    Q_OBJECT

public:
    enum Page { settings, sections, seats, result, channels };

    explicit CorrectionPage(Session& session, QWidget* parent = nullptr);
    static bool is_there(const Session& session); // the selected stage is a correction

    Companion* pages() const { return pages_; }
    FitSettingsPane* settings_pane() const { return settings_; }
    FoundSectionsPane* sections_pane() const { return sections_; }
    FitSeatsPane* seats_pane() const { return seats_; }
    ResultPane* result_pane() const { return result_; }
    FitChannelsPane* channels_pane() const { return channels_; }

private:
    Companion* pages_;
    FitSettingsPane* settings_;
    FoundSectionsPane* sections_;
    FitSeatsPane* seats_;
    ResultPane* result_;
    FitChannelsPane* channels_;
};

} // namespace syntonon
