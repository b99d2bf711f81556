# SPDX-License-Identifier: MIT
# verdite_tables(TARGET NAME MODEL [OPTION...]): what `verdite tables MODEL OPTION...` writes, as NAME in a folder that
# TARGET includes from.
function(verdite_tables target name model)
  set(folder ${CMAKE_CURRENT_BINARY_DIR}/tables)
  file(MAKE_DIRECTORY ${folder})
  add_custom_command(
    OUTPUT ${folder}/${name}
    COMMAND ${CMAKE_COMMAND} -E env VERDITE_MODELS=${PROJECT_SOURCE_DIR}/models ASAN_OPTIONS=detect_leaks=0
            $<TARGET_FILE:verdite-tool> tables ${model} ${ARGN} > ${folder}/${name}
    DEPENDS verdite-tool ${PROJECT_SOURCE_DIR}/models/${model}.yaml
    VERBATIM)
  target_sources(${target} PRIVATE ${folder}/${name})
  target_include_directories(${target} PRIVATE ${folder})
endfunction()
