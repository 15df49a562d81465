/*
 * The event loop of core/mix once more in C, as a yardstick for its speed: machines that are evicted by hazard and by
 * reclaim events, pools that run dry, refill at once and every few minutes, provisioning and set-up, pools by even
 * shares. Without what the bench's mix does not use: fallback, kept disks, prices that move, hours.
 * Usage: mix-loop TRIALS. Prints evictions a trial and missing unit-hours a trial.
 */
#include <math.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define POOLS 6
#define SLOTS 200
#define HOUR 3600000.0
#define HORIZON (28 * 24 * HOUR)
#define PROVISION (3 * 60000.0)
#define SETUP (5 * 60000.0)
#define REFILL (5 * 60000.0)
#define QUEUE (1 << 16)

enum { GONE, PROVISIONED, SET_UP, UP };

static const double RATES[POOLS] = {0.0008, 0.0016, 0.0024, 0.0032, 0.0040, 0.0060};
static const double RECLAIM = 0.005, SHARE = 0.2, AVAILABLE = 80 * HOUR, DRY = 4 * HOUR, FACTOR = 3;

static uint32_t mixed(uint32_t x) {
  x = (x ^ (x >> 16)) * 0x21f0aaadu;
  x = (x ^ (x >> 15)) * 0x735a2d97u;
  return x ^ (x >> 15);
}
static double draw(uint32_t a, uint32_t b, uint32_t n) { return (mixed(mixed(n + a) ^ b) + 0.5) / 4294967296.0; }
static double exponential(uint32_t a, uint32_t b, uint32_t n) { return -log(draw(a, b, n)); }

typedef struct { double hazard; int what; uint32_t life; } Lot;
typedef struct {
  uint32_t a, b;
  int dry, held, billed;
  uint32_t numbers, spells, reclaims;
  double available_since, spell_at, reclaim_at, evict_at, next_at, billed_since, cost, hazard, hazard_at, rate;
  Lot heap[8192];
  int size;
} Pool;
typedef struct { double at[QUEUE]; int what[QUEUE]; uint32_t life[QUEUE]; uint32_t head, tail; } Queue;

static Pool pools[POOLS];
static Queue provisioning, setting_up;
static int pool_of[SLOTS + 1], state_of[SLOTS + 1];
static uint32_t life_of[SLOTS + 1], number_of[SLOTS + 1];
static int free_list[SLOTS + 1], free_count;
static double gap_since[QUEUE];
static uint32_t gap_head, gap_tail;
static double now, attempt_at, missing;
static int up_units, attempt_now;
static long evictions;

static double rate_of(const Pool *p) { return p->dry ? p->rate * FACTOR : p->rate; }
static void look(Pool *p) {
  p->next_at = p->evict_at;
  if (p->spell_at < p->next_at) p->next_at = p->spell_at;
  if (p->reclaim_at < p->next_at) p->next_at = p->reclaim_at;
}
static void refresh(Pool *p) {
  p->evict_at = p->size == 0 ? INFINITY : p->hazard_at + round(fmax(0, p->heap[0].hazard - p->hazard) / rate_of(p));
  look(p);
}
static void expose_until(Pool *p, double at) {
  p->hazard += (at - p->hazard_at) * rate_of(p);
  p->hazard_at = at;
}
static void bill(Pool *p, int count) {
  p->cost += p->billed * (now - p->billed_since) * 0.3;
  p->billed_since = now;
  p->billed += count;
}
static void push_lot(Pool *p, Lot lot) {
  int i = p->size++;
  while (i > 0 && p->heap[(i - 1) / 2].hazard > lot.hazard) { p->heap[i] = p->heap[(i - 1) / 2]; i = (i - 1) / 2; }
  p->heap[i] = lot;
}
static void pop_lot(Pool *p) {
  Lot lot = p->heap[--p->size];
  int i = 0;
  for (;;) {
    int down = 2 * i + 1;
    if (down >= p->size) break;
    if (down + 1 < p->size && p->heap[down + 1].hazard < p->heap[down].hazard) down++;
    if (p->heap[down].hazard >= lot.hazard) break;
    p->heap[i] = p->heap[down];
    i = down;
  }
  p->heap[i] = lot;
}
static void expose(int m) {
  Pool *p = &pools[pool_of[m]];
  bill(p, 1);
  expose_until(p, now);
  double until = p->hazard + exponential(p->a + 4, p->b, number_of[m]);
  if (until > p->hazard + p->rate * FACTOR * (HORIZON - now)) return;
  push_lot(p, (Lot){until, m, life_of[m]});
  if (p->heap[0].what == m) refresh(p);
}
static void enqueue(Queue *q, double at, int m) {
  uint32_t i = q->tail++ % QUEUE;
  q->at[i] = at;
  q->what[i] = m;
  q->life[i] = life_of[m];
}
static double queue_at(const Queue *q) { return q->head == q->tail ? INFINITY : q->at[q->head % QUEUE]; }
static int dequeue(Queue *q) {
  uint32_t i = q->head++ % QUEUE;
  return life_of[q->what[i]] == q->life[i] ? q->what[i] : -1;
}
static int next_pool(int any) {
  int best = -1;
  double most = -INFINITY;
  for (int k = 0; k < POOLS; k++) {
    if (!any && pools[k].available_since > now) continue;
    double below = (double)SLOTS / POOLS - pools[k].held;
    if (below > most + 1e-9) { most = below; best = k; }
  }
  return best;
}
static int take(int k, int state) {
  int m = free_list[--free_count];
  pool_of[m] = k;
  state_of[m] = state;
  number_of[m] = pools[k].numbers++;
  pools[k].held++;
  return m;
}
static void evict(int m) {
  Pool *p = &pools[pool_of[m]];
  evictions++;
  p->held--;
  bill(p, -1);
  if (state_of[m] == UP) up_units--;
  state_of[m] = GONE;
  life_of[m]++;
  free_list[free_count++] = m;
  gap_since[gap_tail++ % QUEUE] = now;
  attempt_now = 1;
}
static void attempts(void) {
  if (gap_head == gap_tail) { attempt_at = INFINITY; return; }
  if (attempt_now || attempt_at == now)
    for (int k; gap_head != gap_tail && (k = next_pool(0)) >= 0; gap_head++) enqueue(&provisioning, now + PROVISION, take(k, PROVISIONED));
  attempt_now = 0;
  attempt_at = INFINITY;
  if (next_pool(0) < 0) return;
  for (uint32_t g = gap_head; g != gap_tail; g++) {
    double since = gap_since[g % QUEUE];
    double at = since + (floor((now - since) / REFILL) + 1) * REFILL;
    if (at < attempt_at) attempt_at = at;
  }
}
static void trial(uint32_t seed) {
  memset(&provisioning.head, 0, 2 * sizeof(uint32_t));
  memset(&setting_up.head, 0, 2 * sizeof(uint32_t));
  gap_head = gap_tail = 0;
  now = 0;
  up_units = 0;
  attempt_at = INFINITY;
  free_count = 0;
  for (int m = SLOTS; m >= 0; m--) { free_list[free_count++] = m; state_of[m] = GONE; }
  for (int k = 0; k < POOLS; k++) {
    Pool *p = &pools[k];
    p->a = mixed(seed * 31 + (uint32_t)k);
    p->b = mixed(p->a + seed);
    p->held = p->billed = p->size = 0;
    p->numbers = p->spells = p->reclaims = 0;
    p->billed_since = p->cost = p->hazard = p->hazard_at = 0;
    p->rate = RATES[k] / HOUR;
    p->dry = draw(p->a + 2, p->b, p->spells++) < DRY / (AVAILABLE + DRY);
    p->available_since = p->dry ? INFINITY : 0;
    p->spell_at = round(exponential(p->a + 2, p->b, p->spells++) * (p->dry ? DRY : AVAILABLE));
    p->reclaim_at = round(exponential(p->a + 3, p->b, ++p->reclaims) / (RECLAIM / HOUR));
    refresh(p);
  }
  for (int i = 0; i < SLOTS; i++) { int m = take(next_pool(1), UP); up_units++; expose(m); }
  for (;;) {
    double next = INFINITY;
    for (int k = 0; k < POOLS; k++) if (pools[k].next_at < next) next = pools[k].next_at;
    if (queue_at(&provisioning) < next) next = queue_at(&provisioning);
    if (queue_at(&setting_up) < next) next = queue_at(&setting_up);
    if (attempt_at < next) next = attempt_at;
    if (next >= HORIZON) break;
    missing += (SLOTS - up_units) * (next - now);
    now = next;
    int changed = 0;
    for (int k = 0; k < POOLS; k++) {
      Pool *p = &pools[k];
      if (p->next_at > now) continue;
      if (p->spell_at == now) {
        expose_until(p, now);
        p->dry = !p->dry;
        p->spell_at = now + round(exponential(p->a + 2, p->b, p->spells++) * (p->dry ? DRY : AVAILABLE));
        p->available_since = p->dry ? INFINITY : now;
        refresh(p);
        changed = 1;
      }
      if (p->reclaim_at == now) {
        for (int m = 0; m <= SLOTS; m++)
          if (pool_of[m] == k && state_of[m] >= SET_UP && draw(p->a + 5 + number_of[m], p->b, p->reclaims) < SHARE) evict(m);
        p->reclaim_at = now + round(exponential(p->a + 3, p->b, ++p->reclaims) / (RECLAIM / HOUR));
        look(p);
      }
      while (p->size > 0 && p->evict_at <= now) {
        Lot lot = p->heap[0];
        pop_lot(p);
        refresh(p);
        if (life_of[lot.what] == lot.life) evict(lot.what);
      }
    }
    while (queue_at(&provisioning) == now) {
      int m = dequeue(&provisioning);
      if (m < 0) continue;
      state_of[m] = SET_UP;
      expose(m);
      enqueue(&setting_up, now + SETUP, m);
    }
    while (queue_at(&setting_up) == now) {
      int m = dequeue(&setting_up);
      if (m >= 0) { state_of[m] = UP; up_units++; }
    }
    if (changed || attempt_now || attempt_at == now) attempts();
  }
  missing += (SLOTS - up_units) * (HORIZON - now);
}

int main(int count, char **words) {
  int trials = count > 1 ? atoi(words[1]) : 1000;
  for (int t = 0; t < trials; t++) trial((uint32_t)t + 1);
  printf("%.3f %.3f\n", (double)evictions / trials, missing / HOUR / trials);
}
