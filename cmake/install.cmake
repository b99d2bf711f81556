# SPDX-License-Identifier: MIT
# What is installed besides the libraries: headers, what other builds find them by, and, with the host part, the tools and
# their data; and the Debian package of it all.
include(CMakePackageConfigHelpers)

# Headers of what a computer adds need packages that a microcontroller does not have.
set(host_headers chart.h day_chart.h days.h fault_values.h history.h host.h all_languages.h items.h log.h posix.h reach.h roster.h sim.h store.h)
file(GLOB headers CONFIGURE_DEPENDS include/verdite/*.h)
foreach(header ${headers})
  get_filename_component(name ${header} NAME)
  if(VERDITE_HOST OR NOT name IN_LIST host_headers)
    install(FILES ${header} DESTINATION ${CMAKE_INSTALL_INCLUDEDIR}/verdite)
  endif()
endforeach()

# pkg-config: paths from the file's own place, so that the whole can be moved.
file(RELATIVE_PATH from_pkgconfig "/${CMAKE_INSTALL_LIBDIR}/pkgconfig" "/")
string(REGEX REPLACE "/$" "" from_pkgconfig "${from_pkgconfig}")
set(pkgconfigs verdite)
if(VERDITE_HOST)
  list(APPEND pkgconfigs verdite-host)
endif()
foreach(name ${pkgconfigs})
  configure_file(cmake/${name}.pc.in ${name}.pc @ONLY)
  install(FILES ${CMAKE_CURRENT_BINARY_DIR}/${name}.pc DESTINATION ${CMAKE_INSTALL_LIBDIR}/pkgconfig)
endforeach()

set(package_place ${CMAKE_INSTALL_LIBDIR}/cmake/verdite)
configure_package_config_file(cmake/verdite-config.cmake.in verdite-config.cmake INSTALL_DESTINATION ${package_place})
write_basic_package_version_file(verdite-config-version.cmake COMPATIBILITY SameMinorVersion)
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/verdite-config.cmake ${CMAKE_CURRENT_BINARY_DIR}/verdite-config-version.cmake
        DESTINATION ${package_place})
install(EXPORT verdite NAMESPACE verdite:: FILE verdite-targets.cmake DESTINATION ${package_place})

if(VERDITE_HOST)
  install(FILES cmake/models_folder.c DESTINATION ${package_place})
  install(TARGETS verdite-tool verdite-bench)
  install(DIRECTORY models benches DESTINATION ${CMAKE_INSTALL_DATADIR}/verdite PATTERN state.json EXCLUDE)
  install(FILES share/70-verdite.rules share/model.schema.json share/result.schema.json DESTINATION ${CMAKE_INSTALL_DATADIR}/verdite)
  install(FILES README.md LICENSE DESTINATION ${CMAKE_INSTALL_DOCDIR})
  install(DIRECTORY docs/ DESTINATION ${CMAKE_INSTALL_DOCDIR}/docs FILES_MATCHING PATTERN "*.md" PATTERN screenshots EXCLUDE)

  if(PROJECT_IS_TOP_LEVEL)
    set(CPACK_GENERATOR DEB)
    set(CPACK_PACKAGING_INSTALL_PREFIX /usr)
    set(CPACK_PACKAGE_CONTACT "The Verdite developers <verdite@verdite.example>")
    set(CPACK_PACKAGE_DESCRIPTION_SUMMARY "sets up units on a serial line, and verifies by reading back")
    set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
    set(CPACK_DEBIAN_PACKAGE_SECTION comm)
    set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
    set(CPACK_DEBIAN_PACKAGE_GENERATE_SHLIBS ON)
    set(CPACK_DEBIAN_PACKAGE_SUGGESTS "libglib2.0-dev, pkg-config")
    set(CPACK_DEBIAN_PACKAGE_CONTROL_EXTRA ${CMAKE_CURRENT_SOURCE_DIR}/cmake/triggers)
    set(CPACK_STRIP_FILES ON)
    include(CPack)
  endif()
endif()
