/* SPDX-License-Identifier: MIT
 * Compiled into a program that links the host library statically: where the models were installed. The CMake package
 * does so by itself; pkg-config names this file and that folder.
 */
extern const char vd_models_folder[];
const char vd_models_folder[] = VERDITE_MODELS_FOLDER;
