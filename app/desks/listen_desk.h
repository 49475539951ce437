// The desk where signals go through the chain.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/desks/desk_frame.h"
#include "app/model/bench_work.h"
#include "app/model/listening.h"
#include "app/model/session.h"

#include <QObject>
#include <filesystem>
#include <functional>

namespace syntonon {

class VoicesPage;
class BenchView;
class BlindPage;
class LevelsPage;
class Rail;
class SignalsPage;
class StepsPage;

class ListenDesk : public QObject {
    Q_OBJECT

public:
    // `folder` is where the study lies; see BenchWork.
    ListenDesk(Session& session, Rail* rail, const std::function<std::filesystem::path()>& folder,
               QObject* parent = nullptr);

    DeskParts parts() const;
    BenchWork& bench() { return bench_; }
    Listening& listening() { return listening_; }
    BlindPage* blind() const { return blind_; }
    BenchView* view() const { return view_; }
    SignalsPage* signals_page() const { return signals_page_; }
    LevelsPage* levels() const { return levels_; }
    StepsPage* steps() const { return steps_; }
    void show_levels();
    Companion* lower() const { return lower_; }
    VoicesPage* voices(); // of a chain with a modelled stage; brought to the front
    // A sound file, shown on the page Signals as it is added or refused.
    void add_file(const QString& path);
    bool is_busy() const; // something of what is shown is being worked out

private:
    BenchWork bench_;
    Listening listening_;
    Rail* rail_;
    BenchView* view_;
    SignalsPage* signals_page_;
    LevelsPage* levels_;
    StepsPage* steps_;
    BlindPage* blind_;
    Companion *upper_, *lower_;
    int voices_page_ = 0; // there with a modelled stage in the chain
    bool had_notes_ = false;
};

} // namespace syntonon
