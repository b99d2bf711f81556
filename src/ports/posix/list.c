/* SPDX-License-Identifier: MIT
 * Which serial ports are there, as the device manager knows them. */
#include "verdite/posix.h"

#include <libudev.h>
#include <string.h>
#include <unistd.h>

static void copy(char *to, size_t size, const char *text)
{
    vd_identity_copy(to, size, (const uint8_t *)(text != NULL ? text : ""), text != NULL ? strlen(text) : 0);
}

static const char *attribute(struct udev_device *device, const char *name)
{
    const char *text = device != NULL ? udev_device_get_sysattr_value(device, name) : NULL;
    return text != NULL ? text : "";
}

/* A tty without hardware behind it (consoles, pseudo-terminals, the placeholders of built-in ports) has no parent, or
 * the placeholder driver as its parent's driver. */
static bool has_hardware(struct udev_device *device)
{
    struct udev_device *parent = udev_device_get_parent(device);
    const char *driver = parent != NULL ? udev_device_get_driver(parent) : NULL;
    return parent != NULL && (driver == NULL || strcmp(driver, "serial8250") != 0);
}

static void describe(struct udev_device *device, vd_posix_found *found)
{
    struct udev_device *usb = udev_device_get_parent_with_subsystem_devtype(device, "usb", "usb_device");
    char maker[48], product[48];
    const char *path = udev_device_get_devnode(device);
    copy(found->path, sizeof found->path, path);
    copy(maker, sizeof maker, attribute(usb, "manufacturer"));
    copy(product, sizeof product, attribute(usb, "product"));
    copy(found->serial, sizeof found->serial, attribute(usb, "serial"));
    vd_writer writer = vd_writer_start(found->label, sizeof found->label);
    vd_writer_add(&writer, maker);
    vd_writer_add(&writer, maker[0] != '\0' && product[0] != '\0' ? " " : "");
    vd_writer_add(&writer, product);
    if (writer.length == 0) {
        vd_writer_add(&writer, usb != NULL ? "USB adapter" : "built-in port");
    }
    found->may_open = path != NULL && access(path, R_OK | W_OK) == 0;
}

size_t vd_posix_list(vd_posix_found *found, size_t size)
{
    size_t count = 0;
    struct udev *udev = udev_new();
    struct udev_enumerate *all = udev != NULL ? udev_enumerate_new(udev) : NULL;
    if (all != NULL) {
        udev_enumerate_add_match_subsystem(all, "tty");
        udev_enumerate_scan_devices(all);
        for (struct udev_list_entry *at = udev_enumerate_get_list_entry(all); at != NULL;
             at = udev_list_entry_get_next(at)) {
            struct udev_device *device = udev_device_new_from_syspath(udev, udev_list_entry_get_name(at));
            if (device != NULL && udev_device_get_devnode(device) != NULL && has_hardware(device)) {
                if (count < size) {
                    describe(device, &found[count]);
                }
                count++;
            }
            udev_device_unref(device);
        }
        udev_enumerate_unref(all);
    }
    udev_unref(udev);
    return count;
}
