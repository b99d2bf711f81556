/* SPDX-License-Identifier: MIT
 * Compiled into a program that links the host library statically by the CMake package: where the models were installed.
 */
extern const char vd_models_folder[];
const char vd_models_folder[] = VERDITE_MODELS_FOLDER;
