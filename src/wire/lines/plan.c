/* SPDX-License-Identifier: MIT
 * In which order records are read and written in lines. Each record that is touched is a request of its own; how many
 * go into one line is seen when it is sent. */
#include "parts.h"

#include <string.h>

static const vd_setting *setting_at(const vd_job *job, unsigned at)
{
    return &job->model->settings[job->plan.order[at]];
}

/* Records that give others their decimals go first; those that need a line of their own leave the others together;
 * those that make the unit restart go last. */
static uint8_t step_of(const vd_setting *setting)
{
    bool alone = setting->once || setting->secret || !vd_setting_is_shown(setting);
    return vd_setting_restarts(setting) ? 3 : setting->gives_places ? 0 : alone ? 2 : 1;
}

/* By step, which stands in the outcomes meanwhile, and field. */
static bool comes_after(const void *about, uint16_t a, uint16_t b)
{
    const vd_job *job = about;
    int first = job->outcome[a], second = job->outcome[b];
    const vd_setting *settings = job->model->settings;
    return first != second ? first > second : vd_field_order(&settings[a].field, &settings[b].field) > 0;
}

unsigned vd_lines_record_end(const vd_job *job, unsigned at)
{
    unsigned end = at + 1;
    while (end < job->plan.count && vd_field_same_record(&setting_at(job, at)->field, &setting_at(job, end)->field)) {
        end++;
    }
    return end;
}

/* A record goes out whole, so it has the latest step of what is to change in it. */
static void give_steps(vd_job *job)
{
    for (unsigned at = 0, end = 0; at < job->plan.count; at = end) {
        uint8_t latest = 0;
        end = vd_lines_record_end(job, at);
        for (unsigned i = at; i < end; i++) {
            uint8_t own = step_of(setting_at(job, i));
            latest = own > latest ? own : latest;
        }
        for (unsigned i = at; i < end; i++) {
            job->outcome[job->plan.order[i]] = latest;
        }
    }
}

bool vd_lines_rescales_at_once(const vd_model *model, const uint8_t *which, uint16_t decides)
{
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (which[i] == 1 && vd_index(model->settings[i].places_from) == decides &&
            !vd_field_same_record(&model->settings[i].field, &model->settings[decides].field)) {
            return false;
        }
    }
    return true;
}

void vd_lines_plan(vd_job *job, const vd_set *held)
{
    vd_plan *p = &job->plan;
    bool write = job->kind == VD_JOB_WRITE;
    p->count = p->requests = 0;
    for (uint16_t i = 0; i < job->model->setting_count; i++) {
        const vd_setting *setting = &job->model->settings[i];
        bool fits = write ? setting->access != VD_READ_ONLY : vd_setting_is_shown(setting);
        if (job->which[i] == 1 && fits) {
            p->order[p->count++] = i;
        }
    }
    vd_settings_sort(p->order, p->count, comes_after, job);
    if (write) {
        give_steps(job);
        vd_settings_sort(p->order, p->count, comes_after, job);
        memset(job->outcome, VD_NOT_TRIED, job->model->setting_count);
    }
    for (unsigned i = 0, end = 0; i < p->count; i = end) {
        end = vd_lines_record_end(job, i);
        p->next[i] = (uint16_t)end;
        p->cost[p->requests++] = i;
    }
    if (write) {
        vd_plan_steps(p, &job->reached, &job->before, held, job->values);
    }
}
