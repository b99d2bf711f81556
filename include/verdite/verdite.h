/* SPDX-License-Identifier: MIT
 *
 * Verdite: all of the portable library. Each header also stands for itself.
 */
#ifndef VERDITE_VERDITE_H
#define VERDITE_VERDITE_H

#include "verdite/compiled.h"
#include "verdite/engine.h"
#include "verdite/fault.h"
#include "verdite/fields.h"
#include "verdite/language.h"
#include "verdite/ledger.h"
#include "verdite/line.h"
#include "verdite/lines.h"
#include "verdite/lines_unit.h"
#include "verdite/modbus.h"
#include "verdite/modbus_ascii.h"
#include "verdite/modbus_unit.h"
#include "verdite/model.h"
#include "verdite/models.h"
#include "verdite/port.h"
#include "verdite/probe.h"
#include "verdite/raw.h"
#include "verdite/registers.h"
#include "verdite/rules.h"
#include "verdite/search.h"
#include "verdite/set.h"
#include "verdite/setting.h"
#include "verdite/talk.h"
#include "verdite/unit.h"
#include "verdite/value.h"
#include "verdite/version.h"
#include "verdite/visit.h"
#include "verdite/writer.h"

#endif
