/* A year of the loop as its rules are written down, step by step: every one of 525,600 minutes, doubles, no step left out and
 * nothing hoisted. It is what the compiled loop is timed against and, in a test, held to; it knows a sealed, a direct, a
 * drainback and a thermosiphon loop, each with or without a backup in the store. Source: methods 5 to 7. */
#include <math.h>
#include <string.h>

#define MOST 64
#define GRAVITY 9.80665

typedef struct {
    double field_gain, field_capacity, a1, a2, mcp, pump_power, pump_heat, node_capacity, node_volume, conduction, room, rho_c;
    double start, stop, least, store_maximum, store_latch, cut_out, cut_out_latch, tap, stagnation, backup_power, step;
    double field_liquid, refill, frost_start, frost_stop, rise_field, rise_hot, fall_store, fall_cold, k1, k2, heat_capacity;
    double store_node, limit_node, backup_node, return_node, drains, line_nodes, field_nodes, store_nodes;
} plant;

typedef struct { double collector, coil, line_loss, pump_heat, store_loss, draw, demand, pump_time, starts, stagnation, electric, backup, highest_field, highest_store; } sums;

static double density(double t) { return 1000.0 * (1.0 - (t + 288.9414) * (t - 3.9863) * (t - 3.9863) / (508929.2 * (t + 68.12963))); }

static double column(const double *t, int n, double height) {
    double weight = 0.0;
    for (int i = 0; i < n; i++) weight += density(t[i]);
    return weight / n * GRAVITY * height;
}

/* lines: capacity, loss and 1 for outdoors of each node, one after the other */
static void line_map(const plant *p, const double *t, const double *line, int n, double air, double mcp, double *a, double *b) {
    for (int i = 0; i < n; i++) {
        double around = line[2 * n + i] > 0.0 ? air : p->room, held = line[i] / p->step, loss = line[n + i];
        double whole = held + mcp + loss;
        *a = (held * t[i] + loss * around + mcp * *a) / whole;
        *b = mcp * *b / whole;
    }
}

static double line_run(const plant *p, double *t, const double *line, int n, double air, double mcp, double entering, sums *s) {
    for (int i = 0; i < n; i++) {
        double around = line[2 * n + i] > 0.0 ? air : p->room, held = line[i] / p->step, loss = line[n + i];
        t[i] = (held * t[i] + loss * around + mcp * entering) / (held + mcp + loss);
        s->line_loss += loss * (t[i] - around) * p->step;
        entering = t[i];
    }
    return entering;
}

static void line_rest(const plant *p, double *t, const double *line, int n, double air, sums *s) {
    for (int i = 0; i < n; i++) {
        if (p->drains > 0.0 && line[2 * n + i] > 0.0) continue;
        double around = line[2 * n + i] > 0.0 ? air : p->room, held = line[i] / p->step, loss = line[n + i];
        t[i] = (held * t[i] + loss * around) / (held + loss);
        s->line_loss += loss * (t[i] - around) * p->step;
    }
}

static double field_move(const plant *p, double *t, int n, double sun, double air, double mcp, double entering) {
    double part = p->field_gain / n, capacity = p->field_capacity;
    if (p->drains > 0.0 && mcp == 0.0) capacity -= p->field_liquid;
    double held = capacity / n / p->step;
    for (int i = 0; i < n; i++) {
        double loss = part * (p->a1 + p->a2 * fabs(t[i] - air));
        t[i] = (held * t[i] + part * sun + loss * air + mcp * entering) / (held + mcp + loss);
        entering = t[i];
    }
    return entering;
}

static void mix(double *t, int n) {
    int start = 0;
    while (start < n) {
        int end = start + 1;
        double total = t[start];
        while (end < n && t[end] > total / (end - start)) total += t[end++];
        double mean = total / (end - start);
        for (int i = start; i < end; i++) t[i] = mean;
        if (start > 0 && t[start - 1] < mean - 1e-12) {
            start--;
            while (start > 0 && t[start - 1] == t[start]) start--;
        } else start = end;
    }
}

static void draw(const plant *p, double *t, int n, double volume, double cold, sums *s) {
    s->demand += volume * p->rho_c * (p->tap - cold);
    int parts = (int)ceil(volume / (0.5 * p->node_volume) - 1e-9);
    double each = volume / parts;
    for (int k = 0; k < parts; k++) {
        double taken = t[0] <= p->tap ? each : each * (p->tap - cold) / (t[0] - cold);
        s->draw += taken * p->rho_c * (t[0] - cold);
        double share = taken / p->node_volume;
        for (int i = 0; i < n - 1; i++) t[i] += share * (t[i + 1] - t[i]);
        t[n - 1] += share * (cold - t[n - 1]);
    }
}

/* nodes: what passes the coil at the pump's flow and the loss of each node of the store; t: cold line, field, hot line, store */
void year(const plant *p, const double *cold_line, const double *hot_line, const double *nodes, double *t, const double *sun_of, const double *air_of,
          const double *minute, const double *day_share, const double *day_cold, const double *below, const double *until, sums *s) {
    int nl = (int)p->line_nodes, nf = (int)p->field_nodes, ns = (int)p->store_nodes, into = (int)p->return_node;
    double *cold = t, *field = t + nl, *hot = field + nf, *store = hot + nl, gains[MOST], next[MOST], flow = 0.0;
    int running = 0, full = 0, hot_out = 0, heats = 0, frost = 0;
    memset(s, 0, sizeof *s);
    s->highest_field = s->highest_store = -273.0;
    for (int hour = 0; hour < 8760; hour++) {
        double sun = sun_of[hour], air = air_of[hour];
        int day = hour / 24;
        for (int k = 0; k < 60; k++) {
            int at = hour % 24 * 60 + k;
            for (int i = 0; i < ns; i++) gains[i] = 0.0;
            /* control, on the temperatures at the end of the last step */
            double top = store[(int)p->limit_node], foot = store[(int)p->store_node], exit = field[nf - 1], mcp = 0.0;
            if (p->k2 > 0.0) {
                int from = into >= 0 ? into : 0;
                double drive = column(cold, nl, p->fall_cold) + column(store + from, ns - from, p->fall_store) - column(field, nf, p->rise_field) - column(hot, nl, p->rise_hot);
                double now = drive > 0.0 ? (-p->k1 + sqrt(p->k1 * p->k1 + 4.0 * p->k2 * drive)) / (2.0 * p->k2) : 0.0;
                flow = (now + flow) / 2.0;
                if (flow < 1e-5) flow = 0.0;
                mcp = flow * p->heat_capacity;
            } else {
                if (p->frost_start > -273.0) {
                    double coldest = field[0];
                    for (int i = 1; i < nf; i++) if (field[i] < coldest) coldest = field[i];
                    if (coldest <= p->frost_start) frost = 1; else if (coldest >= p->frost_stop) frost = 0;
                }
                if (top >= p->store_maximum) full = 1; else if (top <= p->store_maximum - p->store_latch) full = 0;
                if (exit >= p->cut_out) hot_out = 1; else if (exit <= p->cut_out - p->cut_out_latch) hot_out = 0;
                int wants = running ? exit - foot > p->stop : exit - foot >= p->start && exit >= p->least && exit < p->refill;
                if (frost || (wants && !full && !hot_out)) mcp = p->mcp;
            }
            int runs = mcp > 0.0;
            if (p->drains > 0.0 && runs != running) {
                if (runs) {
                    double dry = p->field_capacity - p->field_liquid;
                    for (int i = 0; i < nf; i++) field[i] = (dry * field[i] + p->field_liquid * cold[0]) / p->field_capacity;
                } else {
                    double reservoir = cold[0], mean = 0.0, back = 0.0;
                    for (int i = 0; i < nf; i++) mean += field[i] / nf;
                    for (int i = 0; i < nl; i++) {
                        if (cold_line[2 * nl + i] > 0.0) { back += cold_line[i] * (cold[i] - reservoir); cold[i] = reservoir; }
                        if (hot_line[2 * nl + i] > 0.0) { back += hot_line[i] * (hot[i] - reservoir); hot[i] = reservoir; }
                    }
                    s->collector += p->field_liquid * (mean - reservoir);
                    cold[0] = reservoir + (p->field_liquid * (mean - reservoir) + back) / cold_line[0];
                }
            }
            if (runs && !running) s->starts += 1.0;
            running = runs;
            if (runs) {
                double a = 0.0, b = 1.0, part = p->field_gain / nf, held = p->field_capacity / nf / p->step;
                line_map(p, cold, cold_line, nl, air, mcp, &a, &b);
                for (int i = 0; i < nf; i++) {
                    double loss = part * (p->a1 + p->a2 * fabs(field[i] - air)), whole = held + mcp + loss;
                    a = (held * field[i] + part * sun + loss * air + mcp * a) / whole;
                    b = mcp * b / whole;
                }
                line_map(p, hot, hot_line, nl, air, mcp, &a, &b);
                double water = p->node_capacity / p->step;
                for (int i = into >= 0 ? into : 0; i < ns; i++) {
                    double passes = into >= 0 ? mcp / (water + mcp) : nodes[i];
                    a = store[i] * (1.0 - passes) + passes * a;
                    b = passes * b;
                }
                double inlet = (a + p->pump_heat / mcp) / (1.0 - b);
                double before = line_run(p, cold, cold_line, nl, air, mcp, inlet, s);
                double after = field_move(p, field, nf, sun, air, mcp, before);
                double entering = line_run(p, hot, hot_line, nl, air, mcp, after, s), arrives = entering;
                for (int i = into >= 0 ? into : 0; i < ns; i++) {
                    double passes = into >= 0 ? mcp / (water + mcp) : nodes[i], leaving = store[i] + (entering - store[i]) * passes;
                    gains[i] += mcp * (entering - leaving) * p->step;
                    entering = leaving;
                }
                s->collector += mcp * (after - before) * p->step;
                s->coil += mcp * (arrives - entering) * p->step;
                s->pump_heat += p->pump_heat * p->step;
                s->electric += p->pump_power * p->step;
                s->pump_time += p->step;
            } else {
                field_move(p, field, nf, sun, air, 0.0, 0.0);
                line_rest(p, cold, cold_line, nl, air, s);
                line_rest(p, hot, hot_line, nl, air, s);
                for (int i = 0; i < nf; i++) if (field[i] >= p->stagnation) { s->stagnation += p->step; break; }
            }
            /* store */
            if (p->backup_power > 0.0) {
                double here = store[(int)p->backup_node];
                if (here >= until[at]) heats = 0; else if (here < below[at]) heats = 1;
                if (heats) { gains[(int)p->backup_node] += p->backup_power * p->step; s->backup += p->backup_power * p->step; }
            }
            for (int i = 0; i < ns; i++) {
                double loss = nodes[ns + i] * (store[i] - p->room) * p->step;
                double up = i > 0 ? p->conduction * (store[i - 1] - store[i]) * p->step : 0.0;
                double down = i < ns - 1 ? p->conduction * (store[i] - store[i + 1]) * p->step : 0.0;
                s->store_loss += loss;
                next[i] = store[i] + (gains[i] - loss + up - down) / p->node_capacity;
            }
            memcpy(store, next, ns * sizeof(double));
            double volume = minute[at] * day_share[day] * p->step / 60.0;
            if (volume > 0.0) draw(p, store, ns, volume, day_cold[day], s);
            mix(store, ns);
            for (int i = 0; i < nf; i++) if (field[i] > s->highest_field) s->highest_field = field[i];
            if (store[0] > s->highest_store) s->highest_store = store[0];
        }
    }
}
