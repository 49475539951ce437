// What one does to the study's signals: each a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/exchange/sound_stream.h"
#include "core/signal/recipe.h"

#include <QString>
#include <filesystem>
#include <functional>
#include <string>

namespace syntonon {

// Sent through the selected channel's chain from then on. Its name is its kind's, its length what
// such a signal needs.
void add_signal(Session& session, const Recipe& recipe);
// A sound file before it is added. Looking at it takes as long as reading it.
struct FoundSound {
    std::filesystem::path path;
    SoundShape shape;
    std::string digest;
};
Expected<FoundSound> look_at_sound(const std::filesystem::path& path);
// Named after the file, as long as it is (or as is allowed); `folder` is the study's: below it the
// path is kept from there.
void add_sound(Session& session, const FoundSound& found, const std::filesystem::path& folder,
               bool convert);
// An id, or empty: the impulse, no reference.
void send_signal(Session& session, const std::string& id);
void hold_against(Session& session, const std::string& id);

void duplicate_signal(Session& session, const std::string& id);
// Channels that named it send an impulse again, and mixes of it are left without it.
void remove_signal(Session& session, const std::string& id);
// The name may hold "%1", which is the signal's.
void edit_signal(Session& session, const std::string& id, const QString& name,
                 const std::function<void(Signal&)>& change, const QString& gesture = {});

// What a new signal of a kind lasts.
SignalLength usual_length(const Recipe& recipe);

} // namespace syntonon
