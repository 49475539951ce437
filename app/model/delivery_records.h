// What this machine has written of a study's deliveries, and whether that is still what the study
// says.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/deliver.h"

#include <QByteArray>
#include <QDateTime>
#include <QJsonObject>
#include <QString>
#include <map>
#include <string>
#include <vector>

namespace syntonon {

struct DeliveryRecord {
    QString folder;
    QDateTime when;
    std::map<QString, QByteArray> digests; // of each file's bytes, by its path
};

enum class DeliveryStanding {
    never,      // not written by this machine
    as_study,   // what is on the disk is what would be written now
    older,      // the study has changed since
    changed,    // somebody else changed or removed a file
    impossible, // cannot be written now; the words say why
};

struct DeliveryState {
    DeliveryStanding standing = DeliveryStanding::never;
    QString words;
};

// Kept with the machine's settings, under the study's path; a study that was never saved keeps its
// records until the window closes.
class DeliveryRecords {
public:
    // Keeps what was known and, for another path, takes what is known about that one. `is_same`:
    // the study was saved under another name, its records go with it.
    void use_study(const QString& path, bool is_same);

    const DeliveryRecord* of(const std::string& delivery) const;
    void wrote(const std::string& delivery, const QString& folder,
               const std::vector<PlannedFile>& files);

    // Against what would be written now.
    DeliveryState state(const std::string& delivery,
                        const Expected<std::vector<PlannedFile>>& planned) const;
    // Files on the disk that nobody has changed since they were written from here may be replaced
    // without asking.
    bool is_ours(const std::string& delivery, const std::filesystem::path& file) const;

private:
    void keep() const;

    QString path_;
    std::map<std::string, DeliveryRecord> records_;
};

} // namespace syntonon
