// The way back out of an unstable chain.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <map>
#include <string>

namespace syntonon {

// Remembers each stage as it was when it was last stable.
class LastStable : public QObject {
    Q_OBJECT

public:
    explicit LastStable(Session& session, QObject* parent = nullptr);

    // The stages that are unstable now, as they were; one step of the history. Refused where none
    // is, or where none was stable before.
    Expected<void> bring_back();

private:
    void remember();

    Session& session_;
    std::map<std::string, SharedValue<Stage>, std::less<>> stages_;
    std::string channel_; // whose they are
};

// "grows by 34 dB/s"; empty where the poles are not known or none grows.
QString growth_words(const Filter& filter, const Axis& axis);

} // namespace syntonon
