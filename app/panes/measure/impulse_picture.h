// What pictures of the impulse response in view have in common.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/latest_beside.h"
#include "app/model/session.h"

#include <QWidget>
#include <optional>

class QPainter;

namespace syntonon {

// Worked out beside the window when it is looked at.
class ImpulsePicture : public QWidget {
    Q_OBJECT

public:
    ImpulsePicture(Session& session, const QString& name, QWidget* parent = nullptr);
    bool is_busy() const { return work_.is_busy(); }

protected:
    void showEvent(QShowEvent* event) override;
    virtual void work_out(const SharedValue<Measurement>& measured) = 0;

    // False where there is nothing to draw, which is said.
    bool begin_painting(QPainter& painter, bool is_made) const;
    static constexpr double page_left = 52, page_bottom = 22, page_top = 8, page_right = 16;
    QRectF area() const;

    Session& session_;
    LatestBeside work_{this};

private:
    void refresh();
    std::optional<SharedValue<Measurement>> made_of_;
};

} // namespace syntonon
