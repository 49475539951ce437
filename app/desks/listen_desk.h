// The desk where signals go through the chain.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/desks/desk_frame.h"
#include "app/model/session.h"
#include "app/model/test_signal.h"

#include <QObject>

namespace syntonon {

class Rail;
class SamplesTable;
class SignalPane;
class SignalsView;

class ListenDesk : public QObject {
    Q_OBJECT

public:
    ListenDesk(Session& session, Rail* rail, QObject* parent = nullptr);

    DeskParts parts() const;
    SignalsView* signals_view() const { return view_; }
    SignalPane* signal_pane() const { return signal_pane_; }
    SamplesTable* table() const { return table_; }

private:
    TestSignal signal_;
    Rail* rail_;
    SignalsView* view_;
    SignalPane* signal_pane_;
    SamplesTable* table_;
    Companion *upper_, *lower_;
};

} // namespace syntonon
