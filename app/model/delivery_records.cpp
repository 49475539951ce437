// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/delivery_records.h"

#include "app/model/study_settings.h"
#include "app/widgets/words.h"
#include "core/base/file.h"

#include <QCryptographicHash>
#include <QLocale>
#include <algorithm>

namespace syntonon {
namespace {

constexpr auto settings_name = "deliveries";
constexpr std::size_t most_bytes = 64'000'000;

QByteArray digest_of(std::string_view bytes) {
    return QCryptographicHash::hash(
        QByteArrayView(bytes.data(), static_cast<qsizetype>(bytes.size())),
        QCryptographicHash::Sha256);
}

QByteArray digest_on_disk(const QString& path) {
    const auto bytes = read_file(path.toStdString(), most_bytes);
    return bytes ? digest_of(*bytes) : QByteArray();
}

QString path_text(const std::filesystem::path& path) {
    return QString::fromStdString(path.string());
}

QJsonObject to_json(const DeliveryRecord& record) {
    QJsonObject digests;
    for (const auto& [path, digest] : record.digests) {
        digests[path] = QString::fromLatin1(digest.toHex());
    }
    return {
        {"folder", record.folder}, {"when", record.when.toString(Qt::ISODate)}, {"files", digests}};
}

DeliveryRecord from_json(const QJsonObject& json) {
    DeliveryRecord record{
        json["folder"].toString(), QDateTime::fromString(json["when"].toString(), Qt::ISODate), {}};
    const QJsonObject files = json["files"].toObject();
    for (auto file = files.begin(); file != files.end(); ++file) {
        record.digests[file.key()] = QByteArray::fromHex(file.value().toString().toLatin1());
    }
    return record;
}

} // namespace

void DeliveryRecords::use_study(const QString& path, bool is_same) {
    path_ = path;
    if (is_same) {
        keep();
        return;
    }
    records_.clear();
    const QJsonObject known = study_settings(path, settings_name);
    for (auto record = known.begin(); record != known.end(); ++record) {
        records_[record.key().toStdString()] = from_json(record.value().toObject());
    }
}

void DeliveryRecords::keep() const {
    QJsonObject all;
    for (const auto& [delivery, record] : records_) {
        all[QString::fromStdString(delivery)] = to_json(record);
    }
    keep_study_settings(path_, settings_name, all);
}

const DeliveryRecord* DeliveryRecords::of(const std::string& delivery) const {
    const auto found = records_.find(delivery);
    return found != records_.end() ? &found->second : nullptr;
}

void DeliveryRecords::wrote(const std::string& delivery, const QString& folder,
                            const std::vector<PlannedFile>& files) {
    DeliveryRecord record{folder, QDateTime::currentDateTime(), {}};
    for (const PlannedFile& file : files) {
        record.digests[path_text(file.path)] = digest_of(file.text);
    }
    records_[delivery] = std::move(record);
    keep();
}

DeliveryState DeliveryRecords::state(const std::string& delivery,
                                     const Expected<std::vector<PlannedFile>>& planned) const {
    const DeliveryRecord* record = of(delivery);
    const QString when =
        record != nullptr ? QLocale::c().toString(record->when, "d MMM HH:mm") : QString();
    if (!planned) {
        return {DeliveryStanding::impossible, QString::fromStdString(to_text(planned.error()))};
    }
    if (record == nullptr) {
        return {DeliveryStanding::never, tr("never written from here")};
    }
    for (const auto& [path, digest] : record->digests) {
        if (digest_on_disk(path) != digest) {
            return {DeliveryStanding::changed,
                    tr("written %1; a file was changed or removed since").arg(when)};
        }
    }
    const bool same =
        planned->size() == record->digests.size()
        && std::ranges::all_of(*planned, [&](const PlannedFile& file) {
               const auto known = record->digests.find(path_text(file.path));
               return known != record->digests.end() && known->second == digest_of(file.text);
           });
    return same
               ? DeliveryState{DeliveryStanding::as_study, tr("written %1, as the study").arg(when)}
               : DeliveryState{DeliveryStanding::older,
                               tr("written %1, older than the study").arg(when)};
}

bool DeliveryRecords::is_ours(const std::string& delivery,
                              const std::filesystem::path& file) const {
    const DeliveryRecord* record = of(delivery);
    if (record == nullptr) {
        return false;
    }
    const auto known = record->digests.find(path_text(file));
    return known != record->digests.end() && digest_on_disk(known->first) == known->second;
}

} // namespace syntonon
