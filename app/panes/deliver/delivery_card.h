// One delivery in the list: name, what it is, how it stands.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/delivery_records.h"

#include <QAbstractButton>

namespace syntonon {

class DeliveryCard : public QAbstractButton {
    Q_OBJECT

public:
    explicit DeliveryCard(QWidget* parent = nullptr);

    void show_delivery(const Delivery& delivery, const QString& what, const DeliveryState& state,
                       bool chosen);
    const std::string& id() const { return id_; }
    const DeliveryState& state() const { return state_; }
    QSize sizeHint() const override { return {260, 78}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::string id_;
    QString name_, what_;
    DeliveryState state_;
    bool chosen_ = false;
};

} // namespace syntonon
