# Qt puts the paths of source and build folder into every file's command line, which would keep a
# compiler cache from serving other checkouts.
set_property(TARGET Qt6::Test PROPERTY INTERFACE_COMPILE_DEFINITIONS QT_TESTLIB_LIB)

# syntonon_window_target(NAME SOURCE...): code with Qt's meta objects. Their generator does not look
# again by itself when a source is added to an existing build folder (CMake 3.25 with Ninja), so it
# is told by a file that changes with the list of sources.
function(syntonon_window_target name)
  set(sources ${ARGN})
  set(list ${CMAKE_CURRENT_BINARY_DIR}/${name}.sources)
  list(JOIN sources "\n" lines)
  file(CONFIGURE OUTPUT ${list} CONTENT "${lines}\n" @ONLY) # written only when it changes
  set_target_properties(${name} PROPERTIES AUTOMOC ON AUTORCC ON AUTOGEN_TARGET_DEPENDS ${list})
endfunction()
