/* SPDX-License-Identifier: MIT
 * Which serial ports are there, as the device manager knows them, and their coming and going. What adapters say of
 * themselves is made printable before anybody sees it. */
#define _DEFAULT_SOURCE 1

#include "verdite/posix.h"

#include <dirent.h>
#include <grp.h>
#include <libudev.h>
#include <poll.h>
#include <stdio.h>
#include <stdlib.h>
#include <errno.h>
#include <string.h>
#include <sys/stat.h>
#include <sys/sysmacros.h>
#include <unistd.h>

#define MOST_FOUND 64u /* ports, when one is looked for again */

static void copy(char *to, size_t size, const char *text)
{
    vd_identity_copy(to, size, (const uint8_t *)(text != NULL ? text : ""), text != NULL ? strlen(text) : 0);
}

static const char *attribute(struct udev_device *device, const char *name)
{
    const char *text = device != NULL ? udev_device_get_sysattr_value(device, name) : NULL;
    return text != NULL ? text : "";
}

/* A tty without hardware behind it (consoles, pseudo-terminals) has no parent; the place for a built-in port that is
 * not there has the placeholder driver as its parent's. */
static bool has_hardware(struct udev_device *device, bool all)
{
    struct udev_device *parent = udev_device_get_parent(device);
    const char *driver = parent != NULL ? udev_device_get_driver(parent) : NULL;
    return parent != NULL && (all || driver == NULL || strcmp(driver, "serial8250") != 0);
}

/* The property holds all names, parted by blanks; one by identity is better than one by position. */
static void find_lasting_name(struct udev_device *device, vd_posix_found *found)
{
    const char *at = udev_device_get_property_value(device, "DEVLINKS");
    while (at != NULL && *at != '\0') {
        char name[sizeof found->lasting];
        size_t length = strcspn(at, " ");
        vd_identity_copy(name, sizeof name, (const uint8_t *)at, length);
        bool by_id = strstr(name, "/by-id/") != NULL;
        if (by_id || (strstr(name, "/by-path/") != NULL && found->lasting[0] == '\0')) {
            memcpy(found->lasting, name, sizeof name);
        }
        at += length + strspn(at + length, " ");
    }
}

static bool is_number(const char *text)
{
    return text[0] != '\0' && strspn(text, "0123456789") == strlen(text);
}

/* Whether a process has this device open. Of other users' processes one learns nothing unless one is root. */
static bool has_open(const char *process, dev_t device)
{
    char folder[300], path[600];
    struct stat about;
    bool found = false;
    snprintf(folder, sizeof folder, "/proc/%s/fd", process);
    DIR *files = opendir(folder);
    for (struct dirent *entry = files != NULL ? readdir(files) : NULL; entry != NULL && !found;
         entry = readdir(files)) {
        snprintf(path, sizeof path, "%s/%s", folder, entry->d_name);
        found =
            is_number(entry->d_name) && stat(path, &about) == 0 && S_ISCHR(about.st_mode) && about.st_rdev == device;
    }
    if (files != NULL) {
        closedir(files);
    }
    return found;
}

void vd_posix_holder(const char *path, char *holder, size_t size)
{
    holder[0] = '\0';
    struct stat about;
    char own[24], name[64] = "", file[300];
    DIR *processes = stat(path, &about) == 0 && S_ISCHR(about.st_mode) ? opendir("/proc") : NULL;
    snprintf(own, sizeof own, "%ld", (long)getpid());
    for (struct dirent *entry = processes != NULL ? readdir(processes) : NULL; entry != NULL;
         entry = readdir(processes)) {
        if (!is_number(entry->d_name) || strcmp(entry->d_name, own) == 0 || !has_open(entry->d_name, about.st_rdev)) {
            continue;
        }
        snprintf(file, sizeof file, "/proc/%s/comm", entry->d_name);
        FILE *comm = fopen(file, "re");
        if (comm != NULL) {
            size_t got = fread(name, 1, sizeof name - 1, comm);
            name[got] = '\0';
            name[strcspn(name, "\n")] = '\0';
            fclose(comm);
        }
        char shown[48];
        copy(shown, sizeof shown, name);
        vd_writer writer = vd_writer_start(holder, size);
        vd_writer_add(&writer, shown);
        vd_writer_add(&writer, ", process ");
        vd_writer_add(&writer, entry->d_name);
        break;
    }
    if (processes != NULL) {
        closedir(processes);
    }
}

/* Drivers of adapters that have a UART. A built-in one shows its clock. */
static vd_wire wire_of(struct udev_device *device)
{
    static const char *const drivers[] = {
        "ftdi_sio",  "cp210x",    "ch341",      "ch341-uart",      "ch343",     "ch9344",
        "pl2303",    "mct_u232",  "mos7720",    "mos7840",         "io_ti",     "io_edgeport",
        "keyspan",   "f81232",    "f81534",     "ark3116",         "belkin",    "spcp8x5",
        "quatech2",  "ssu100",    "oti6858",    "iuu_phoenix",     "mxuport",   "ti_usb_3410_5052",
        "whiteheat", "xr_serial", "upd78f0730", "digi_acceleport", "cypress_m8"};
    struct udev_device *parent = udev_device_get_parent(device);
    const char *driver = parent != NULL ? udev_device_get_driver(parent) : NULL;
    bool uart = attribute(device, "uartclk")[0] != '\0';
    for (size_t i = 0; i < sizeof drivers / sizeof drivers[0] && driver != NULL && !uart; i++) {
        uart = strcmp(driver, drivers[i]) == 0;
    }
    return uart ? VD_WIRE : VD_WIRE_NOT_KNOWN;
}

vd_wire vd_posix_wire(const char *path)
{
    struct stat about;
    if (stat(path, &about) != 0 || !S_ISCHR(about.st_mode)) {
        return VD_WIRE_NOT_KNOWN;
    }
    /* UNIX 98 pseudo-terminals have the majors 136 to 143. */
    if (major(about.st_rdev) >= 136 && major(about.st_rdev) <= 143) {
        return VD_NO_WIRE;
    }
    struct udev *udev = udev_new();
    struct udev_device *device = udev != NULL ? udev_device_new_from_devnum(udev, 'c', about.st_rdev) : NULL;
    vd_wire wire = device != NULL ? wire_of(device) : VD_WIRE_NOT_KNOWN;
    udev_device_unref(device);
    udev_unref(udev);
    return wire;
}

static void describe(struct udev_device *device, vd_posix_found *found)
{
    struct udev_device *usb = udev_device_get_parent_with_subsystem_devtype(device, "usb", "usb_device");
    char maker[48], product[48];
    const char *path = udev_device_get_devnode(device);
    struct stat about;
    memset(found, 0, sizeof *found);
    copy(found->path, sizeof found->path, path);
    copy(maker, sizeof maker, attribute(usb, "manufacturer"));
    copy(product, sizeof product, attribute(usb, "product"));
    copy(found->serial, sizeof found->serial, attribute(usb, "serial"));
    copy(found->vendor, sizeof found->vendor, attribute(usb, "idVendor"));
    copy(found->product, sizeof found->product, attribute(usb, "idProduct"));
    copy(found->position, sizeof found->position, usb != NULL ? udev_device_get_sysname(usb) : "");
    find_lasting_name(device, found);
    vd_writer writer = vd_writer_start(found->label, sizeof found->label);
    vd_writer_add(&writer, maker);
    vd_writer_add(&writer, maker[0] != '\0' && product[0] != '\0' ? " " : "");
    vd_writer_add(&writer, product);
    if (writer.length == 0) {
        vd_writer_add(&writer, usb != NULL ? "USB adapter" : "built-in port");
    }
    struct group *group = path != NULL && stat(path, &about) == 0 ? getgrgid(about.st_gid) : NULL;
    copy(found->group, sizeof found->group, group != NULL ? group->gr_name : "");
    found->wire = wire_of(device);
    found->may_open = path != NULL && access(path, R_OK | W_OK) == 0;
    found->gone = !found->may_open && path != NULL && (errno == ENOENT || errno == ENXIO || errno == ENODEV);
    const char *candidate = udev_device_get_property_value(device, "ID_MM_CANDIDATE");
    const char *ignored = udev_device_get_property_value(device, "ID_MM_DEVICE_IGNORE");
    found->like_a_modem = candidate != NULL && strcmp(candidate, "1") == 0 && ignored == NULL;
    if (path != NULL) {
        vd_posix_holder(path, found->holder, sizeof found->holder);
    }
}

size_t vd_posix_list(vd_posix_found *found, size_t size, bool all)
{
    size_t count = 0;
    struct udev *udev = udev_new();
    struct udev_enumerate *ports = udev != NULL ? udev_enumerate_new(udev) : NULL;
    if (ports != NULL) {
        udev_enumerate_add_match_subsystem(ports, "tty");
        udev_enumerate_scan_devices(ports);
        for (struct udev_list_entry *at = udev_enumerate_get_list_entry(ports); at != NULL;
             at = udev_list_entry_get_next(at)) {
            struct udev_device *device = udev_device_new_from_syspath(udev, udev_list_entry_get_name(at));
            if (device != NULL && udev_device_get_devnode(device) != NULL && has_hardware(device, all)) {
                if (count < size) {
                    describe(device, &found[count]);
                }
                count++;
            }
            udev_device_unref(device);
        }
        udev_enumerate_unref(ports);
    }
    udev_unref(udev);
    return count;
}

bool vd_posix_find(const char *identity, char *path, size_t size)
{
    static vd_posix_found found[MOST_FOUND];
    size_t count = vd_posix_list(found, MOST_FOUND, false);
    bool there = false;
    for (size_t i = 0; i < count && i < MOST_FOUND && !there; i++) {
        char own[160];
        vd_writer writer = vd_writer_start(own, sizeof own), name = vd_writer_start(path, size);
        vd_posix_identify(&found[i], &writer);
        there = strcmp(own, identity) == 0;
        if (there) {
            vd_writer_add(&name, found[i].path);
        }
    }
    return there;
}

void vd_posix_print_cure(const char *group, vd_writer *writer)
{
    if (group[0] == '\0' || strcmp(group, "root") == 0) {
        vd_writer_add(writer, "Only the administrator may. A udev rule can give it to a group that you are in.");
        return;
    }
    vd_writer_add(writer, "To be allowed: sudo usermod -aG ");
    vd_writer_add(writer, group);
    vd_writer_add(writer, " $USER, then log in again.");
}

void vd_posix_identify(const vd_posix_found *found, vd_writer *writer)
{
    const char *own = found->serial[0] != '\0' ? found->serial : found->position;
    vd_writer_add(writer, found->vendor);
    vd_writer_add(writer, ":");
    vd_writer_add(writer, found->product);
    vd_writer_add(writer, found->serial[0] != '\0' ? " number " : " at ");
    vd_writer_add(writer, own[0] != '\0' ? own : found->path);
}

struct vd_posix_watch {
    struct udev *udev;
    struct udev_monitor *monitor;
};

void vd_posix_watch_end(vd_posix_watch *watch)
{
    if (watch != NULL) {
        udev_monitor_unref(watch->monitor);
        udev_unref(watch->udev);
        free(watch);
    }
}

vd_posix_watch *vd_posix_watch_start(void)
{
    vd_posix_watch *watch = calloc(1, sizeof *watch);
    if (watch == NULL) {
        return NULL;
    }
    watch->udev = udev_new();
    watch->monitor = watch->udev != NULL ? udev_monitor_new_from_netlink(watch->udev, "udev") : NULL;
    if (watch->monitor == NULL || udev_monitor_filter_add_match_subsystem_devtype(watch->monitor, "tty", NULL) < 0 ||
        udev_monitor_enable_receiving(watch->monitor) < 0) {
        vd_posix_watch_end(watch);
        return NULL;
    }
    return watch;
}

bool vd_posix_watch_next(vd_posix_watch *watch, int milliseconds, bool *came, vd_posix_found *found)
{
    struct pollfd wait = {.fd = udev_monitor_get_fd(watch->monitor), .events = POLLIN};
    if (poll(&wait, 1, milliseconds) <= 0) {
        return false;
    }
    struct udev_device *device = udev_monitor_receive_device(watch->monitor);
    const char *action = device != NULL ? udev_device_get_action(device) : NULL;
    bool told = action != NULL && udev_device_get_devnode(device) != NULL &&
                (strcmp(action, "add") == 0 || strcmp(action, "remove") == 0);
    if (told) {
        *came = strcmp(action, "add") == 0;
        describe(device, found);
    }
    udev_device_unref(device);
    return told;
}
