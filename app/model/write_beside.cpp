// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/write_beside.h"

namespace syntonon {

WriteBeside::WriteBeside() {
    thread_.setMaxThreadCount(1);
    thread_.setExpiryTimeout(2000);
}

WriteBeside::~WriteBeside() {
    thread_.waitForDone();
}

void WriteBeside::run(std::function<void()> work, std::function<void()> hand_over) {
    finish();
    hand_over_ = std::move(hand_over);
    thread_.start([this, round = ++round_, work = std::move(work)] {
        work();
        QMetaObject::invokeMethod(
            &here_,
            [this, round] {
                if (round == round_) {
                    this->hand_over();
                }
            },
            Qt::QueuedConnection);
    });
    if (thread_.waitForDone(grace_ms)) {
        this->hand_over();
    }
}

void WriteBeside::finish() {
    while (is_busy()) { // which may have begun the next
        thread_.waitForDone();
        hand_over();
    }
}

// Emptied first: what takes it may begin the next.
void WriteBeside::hand_over() {
    if (const auto taken = std::exchange(hand_over_, nullptr)) {
        taken();
    }
}

} // namespace syntonon
