# Precompiled headers: libraries only, never this project's own headers, so that a change to one of
# ours costs no more than the files that name it, and so that a compiler cache serves other
# checkouts. What hardly any file needs (JSON, plots, logging) stays out.
set(standard_headers
  <algorithm> <array> <cmath> <complex> <filesystem> <functional> <limits> <map> <memory> <numbers>
  <optional> <set> <span> <string> <string_view> <utility> <variant> <vector>
  <fmt/format.h> <tl/expected.hpp>)
set(window_headers
  <QApplication> <QCheckBox> <QComboBox> <QFileInfo> <QGridLayout> <QHBoxLayout> <QHeaderView>
  <QKeyEvent> <QLabel> <QLineEdit> <QMenu> <QMouseEvent> <QPainter> <QPushButton> <QSettings>
  <QStackedWidget> <QTableWidget> <QTimer> <QUndoStack> <QVBoxLayout> <QWidget>)
set(test_headers <gtest/gtest.h>)
