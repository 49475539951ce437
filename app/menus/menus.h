// The menus: every command, with its shortcut.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

class QMenu;
class QMenuBar;

namespace syntonon {

class MainWindow;

void fill_menus(QMenuBar& bar, MainWindow& window);

void fill_study_menu(QMenu& menu, MainWindow& window);
void fill_edit_menu(QMenu& menu, MainWindow& window);
void fill_channel_menu(QMenu& menu, MainWindow& window);
// What one does to the selected channel: rename, colour, remove.
void fill_channel_actions(QMenu& menu, MainWindow& window);
void fill_channel_colours(QMenu& menu, MainWindow& window);
void fill_stage_menu(QMenu& menu, MainWindow& window);
void fill_goal_menu(QMenu& menu, MainWindow& window);
// What one does to a goal as a whole: new, rename, import …
void fill_goal_actions(QMenu& menu, MainWindow& window);
void fill_takes_menu(QMenu& menu, MainWindow& window);
void fill_view_menu(QMenu& menu, MainWindow& window);
void fill_help_menu(QMenu& menu, MainWindow& window, QMenuBar& bar);

} // namespace syntonon
