/* SPDX-License-Identifier: MIT
 * A mocked device manager for other programs: prints the folder of its devices, then takes lines from the standard
 * input, "plug NAME TERMINAL" and "pull NAME", for one adapter that is known by its serial number. Runs under
 * umockdev-wrapper. */
#include <errno.h>
#include <stdbool.h>
#include <stdio.h>
#include <string.h>
#include <sys/ioctl.h>
#include <umockdev.h>
#include <unistd.h>

/* What is a device elsewhere is a pseudo-terminal here: it may be taken alone, and has no further wires. */
static gboolean take_alone(UMockdevIoctlBase *base, UMockdevIoctlClient *client, gpointer about)
{
    gulong request = umockdev_ioctl_client_get_request(client);
    bool fine = request == TIOCEXCL || request == TIOCNXCL;
    (void)base, (void)about;
    umockdev_ioctl_client_complete(client, fine ? 0 : -1, fine ? 0 : ENOTTY);
    return TRUE;
}

int main(void)
{
    UMockdevIoctlBase *alone = umockdev_ioctl_base_new();
    g_signal_connect(alone, "handle-ioctl", G_CALLBACK(take_alone), NULL);
    char line[256], name[32], terminal[128];
    UMockdevTestbed *testbed = umockdev_testbed_new();
    char *root = umockdev_testbed_get_root_dir(testbed), *device = NULL, *attached = NULL;
    puts(root);
    fflush(stdout);
    while (fgets(line, sizeof line, stdin) != NULL) {
        if (sscanf(line, "plug %31s %127s", name, terminal) == 2) {
            char *node = g_strconcat("/dev/", name, NULL), *path = g_strconcat(root, node, NULL);
            char *dev = g_build_filename(root, "dev", NULL);
            g_mkdir_with_parents(dev, 0755);
            /* Before anyone can see the device, and until the next one: whoever opens it looks for this at once. */
            if (attached != NULL) {
                umockdev_testbed_detach_ioctl(testbed, attached, NULL);
            }
            umockdev_testbed_attach_ioctl(testbed, node, alone, NULL);
            if (symlink(terminal, path) != 0) {
                perror(path);
            }
            device = umockdev_testbed_add_device(testbed, "usb", "1-2", NULL, "idVendor", "f055", "idProduct", "6c02",
                                                 "manufacturer", "Quillmere", "product", "tag", "serial", "QP-7", NULL,
                                                 "DEVTYPE", "usb_device", NULL);
            char *tty = umockdev_testbed_add_device(testbed, "tty", name, device, NULL, "DEVNAME", node, NULL);
            g_free(tty), g_free(dev), g_free(path), g_free(attached);
            attached = node;
        } else if (sscanf(line, "pull %31s", name) == 1) {
            char *path = g_strconcat(root, "/dev/", name, NULL);
            umockdev_testbed_remove_device(testbed, device); /* and what hangs on it */
            unlink(path);
            g_free(path);
            g_clear_pointer(&device, g_free);
        }
    }
    g_object_unref(testbed);
    g_object_unref(alone);
    g_free(root);
    g_free(device);
    g_free(attached);
    return 0;
}
