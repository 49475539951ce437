// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/study_settings.h"

#include <QCryptographicHash>
#include <QJsonDocument>
#include <QSettings>
#include <QStringList>

namespace syntonon {
namespace {

constexpr auto order_key = "studies/order";
constexpr qsizetype most_studies = 200;

QString group_of(const QString& path) {
    const QByteArray digest =
        QCryptographicHash::hash(path.toUtf8(), QCryptographicHash::Sha256).toHex();
    return QString::fromLatin1(digest.left(16));
}

} // namespace

QJsonObject study_settings(const QString& path, const QString& name) {
    if (path.isEmpty()) {
        return {};
    }
    const QByteArray text =
        QSettings().value("studies/" + group_of(path) + "/" + name).toByteArray();
    return QJsonDocument::fromJson(text).object();
}

void keep_study_settings(const QString& path, const QString& name, const QJsonObject& settings) {
    if (path.isEmpty()) {
        return;
    }
    QSettings kept;
    const QString group = group_of(path);
    kept.setValue("studies/" + group + "/" + name,
                  QJsonDocument(settings).toJson(QJsonDocument::Compact));
    QStringList order = kept.value(order_key).toStringList();
    order.removeAll(group);
    order.prepend(group);
    while (order.size() > most_studies) {
        kept.remove("studies/" + order.takeLast());
    }
    kept.setValue(order_key, order);
}

} // namespace syntonon
