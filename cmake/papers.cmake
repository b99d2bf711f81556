# SPDX-License-Identifier: MIT
# The manual pages, made from the tables of commands and options, and what shells complete with.
foreach(program verdite verdite-bench)
  add_custom_command(
    OUTPUT ${CMAKE_BINARY_DIR}/${program}.1
    COMMAND verdite-papers ${program} ${PROJECT_VERSION} > ${CMAKE_BINARY_DIR}/${program}.1
    DEPENDS verdite-papers
    VERBATIM)
  install(FILES ${CMAKE_BINARY_DIR}/${program}.1 DESTINATION ${CMAKE_INSTALL_MANDIR}/man1)
  install(FILES share/completions/verdite.bash DESTINATION ${CMAKE_INSTALL_DATADIR}/bash-completion/completions
          RENAME ${program})
  install(FILES share/completions/verdite.fish DESTINATION ${CMAKE_INSTALL_DATADIR}/fish/vendor_completions.d
          RENAME ${program}.fish)
endforeach()
install(FILES share/completions/_verdite DESTINATION ${CMAKE_INSTALL_DATADIR}/zsh/vendor-completions)
add_custom_target(papers ALL DEPENDS ${CMAKE_BINARY_DIR}/verdite.1 ${CMAKE_BINARY_DIR}/verdite-bench.1)
