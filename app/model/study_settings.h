// What this machine remembers about a study without a word of it in the study's file.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QJsonObject>
#include <QString>

namespace syntonon {

// Under the study's path and a name ("window", "deliveries"). Empty where nothing is known, for
// which an empty path, a study that was never saved, is good too.
QJsonObject study_settings(const QString& path, const QString& name);
// Of more than 200 studies the one that was kept longest ago is forgotten.
void keep_study_settings(const QString& path, const QString& name, const QJsonObject& settings);

} // namespace syntonon
