# What is installed beside the programs, and the package that `cpack` makes of all of it.
set(doc_folder ${CMAKE_INSTALL_DATADIR}/doc/syntonon)

# gzip without a name and a time, so that the same sources give the same file.
function(install_packed source name folder)
  set(packed ${CMAKE_CURRENT_BINARY_DIR}/packed/${name}.gz)
  add_custom_command(OUTPUT ${packed} DEPENDS ${source} VERBATIM
    COMMAND ${CMAKE_COMMAND} -E make_directory ${CMAKE_CURRENT_BINARY_DIR}/packed
    COMMAND sh -c "gzip -9nc \"$0\" > \"$1\"" ${source} ${packed})
  set_property(GLOBAL APPEND PROPERTY syntonon_packed ${packed})
  install(FILES ${packed} DESTINATION ${folder})
endfunction()

foreach(program syntonon syntonon-batch syntonon-device)
  install_packed(${PROJECT_SOURCE_DIR}/docs/man/${program}.1 ${program}.1 ${CMAKE_INSTALL_MANDIR}/man1)
  install(FILES packaging/completion.bash RENAME ${program}
    DESTINATION ${CMAKE_INSTALL_DATADIR}/bash-completion/completions)
endforeach()
install_packed(${PROJECT_SOURCE_DIR}/packaging/changelog changelog ${doc_folder})
install_packed(${PROJECT_SOURCE_DIR}/CHANGELOG.md CHANGELOG.md ${doc_folder})
install(FILES packaging/copyright DESTINATION ${doc_folder})
get_property(all_packed GLOBAL PROPERTY syntonon_packed)
add_custom_target(syntonon_packed ALL DEPENDS ${all_packed})

set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGE_NAME syntonon)
set(CPACK_PACKAGE_VENDOR Syntonon)
set(CPACK_PACKAGE_CONTACT "Syntonon maintainers <maintainers@syntonon.example>")
string(REPLACE "-" "~" CPACK_DEBIAN_PACKAGE_VERSION ${SYNTONON_VERSION}) # before the release itself
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_DEBIAN_PACKAGE_SECTION sound)
set(CPACK_DEBIAN_PACKAGE_PRIORITY optional)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
set(CPACK_DEBIAN_PACKAGE_DEPENDS "libqt6svg6, shared-mime-info, hicolor-icon-theme")
set(CPACK_DEBIAN_PACKAGE_RECOMMENDS "fonts-inter")
set(CPACK_DEBIAN_PACKAGE_SUGGESTS "g++, iverilog, lv2-dev, lilv-utils")
set(CPACK_PACKAGE_DESCRIPTION_SUMMARY "designer of audio filters with a verdict that is always on")
set(CPACK_DEBIAN_PACKAGE_DESCRIPTION
"Chains of parametric, classical, all-pass, crossover, FIR, correction and
modelled filters, shaped by number, on the curve, by poles and zeros or by
fitting, against targets with tolerances that are checked all the time, seen
as magnitude, phase, delay, roots and in time, heard, and handed over as
coefficients, sources, plug-ins or to a processor on the network.
.
The batch program does the same from a shell and on build servers.")
set(CPACK_STRIP_FILES ON)
set(CPACK_INSTALL_DEFAULT_DIRECTORY_PERMISSIONS OWNER_READ OWNER_WRITE OWNER_EXECUTE GROUP_READ
  GROUP_EXECUTE WORLD_READ WORLD_EXECUTE)
set(CPACK_PACKAGING_INSTALL_PREFIX /usr)
include(CPack)
