/*
 * The event loop of core/mix once more in C, as a yardstick for its speed: machines that are evicted by hazard and by
 * reclaim events, pools that run dry, refill at once and every few minutes, provisioning and set-up, pools by even
 * shares. Draw by draw the same, so the bench holds its figures against core/mix's. Without what the bench's mix does
 * not use: fallback, kept disks, prices that move, hours, floor.
 * Usage: mix-loop TRIALS. Prints the means over trials of evictions, missing unit-hours, cost, longest shortfall in
 * hours and minutes from an eviction to its replacement.
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
typedef struct { uint32_t a, b; } Key;
static const uint32_t GOLDEN = 0x9e3779b9u;
static Key under(Key key, uint32_t word) {
  uint32_t first = mixed(mixed(key.a + word * GOLDEN) ^ key.b);
  return (Key){first, mixed(mixed(key.b ^ word) + first + GOLDEN)};
}
static uint32_t word_of(const char *name) {
  uint32_t hash = 0x811c9dc5u;
  for (; *name; name++) hash = (hash ^ (unsigned char)*name) * 0x01000193u;
  return mixed(hash);
}
static double draw(uint32_t a, uint32_t b, uint32_t n) { return (mixed(mixed(n + a) ^ b) + 0.5) / 4294967296.0; }
static double exponential(Key key, uint32_t n) { return -log(draw(key.a, key.b, n)); }

typedef struct { double hazard; int what; uint32_t life; } Lot;
typedef struct {
  Key spell_key, reclaim_key, life_key, spared_key;
  uint32_t word;
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
static double gap_since[QUEUE], evicted_at[SLOTS + 1];
static uint32_t gap_head, gap_tail;
static double now, attempt_at, missing, short_since, longest, replaced_ms;
static int up_units, attempt_now;
static long evictions, replaced;
static double sum_evictions, sum_missing, sum_cost, sum_longest, sum_refill;

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
  double until = p->hazard + exponential(p->life_key, number_of[m]);
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
    for (int k; gap_head != gap_tail && (k = next_pool(0)) >= 0; gap_head++) {
      int m = take(k, PROVISIONED);
      evicted_at[m] = gap_since[gap_head % QUEUE];
      enqueue(&provisioning, now + PROVISION, m);
    }
  attempt_now = 0;
  attempt_at = INFINITY;
  if (next_pool(0) < 0) return;
  for (uint32_t g = gap_head; g != gap_tail; g++) {
    double since = gap_since[g % QUEUE];
    double at = since + (floor((now - since) / REFILL) + 1) * REFILL;
    if (at < attempt_at) attempt_at = at;
  }
}
static void pass_until(double then) {
  if (up_units < SLOTS) {
    missing += (SLOTS - up_units) * (then - now);
    if (short_since < 0) short_since = now;
  } else if (short_since >= 0) {
    if (now - short_since > longest) longest = now - short_since;
    short_since = -1;
  }
  now = then;
}
static void begin(Key key) {
  provisioning.head = provisioning.tail = setting_up.head = setting_up.tail = gap_head = gap_tail = 0;
  now = missing = longest = replaced_ms = 0;
  short_since = -1;
  evictions = replaced = up_units = attempt_now = 0;
  attempt_at = INFINITY;
  free_count = 0;
  for (int m = SLOTS; m >= 0; m--) { free_list[free_count++] = m; state_of[m] = GONE; }
  for (int k = 0; k < POOLS; k++) {
    Pool *p = &pools[k];
    Key own = under(key, p->word);
    p->spell_key = under(own, 2);
    p->reclaim_key = under(own, 3);
    p->life_key = under(own, 4);
    p->spared_key = under(own, 5);
    p->held = p->billed = p->size = 0;
    p->numbers = p->spells = p->reclaims = 0;
    p->billed_since = p->cost = p->hazard = p->hazard_at = 0;
    p->rate = RATES[k] / HOUR;
    p->dry = draw(p->spell_key.a, p->spell_key.b, p->spells++) < DRY / (AVAILABLE + DRY);
    p->available_since = p->dry ? INFINITY : 0;
    p->spell_at = round(exponential(p->spell_key, p->spells++) * (p->dry ? DRY : AVAILABLE));
    p->reclaim_at = round(exponential(p->reclaim_key, ++p->reclaims) / (RECLAIM / HOUR));
    refresh(p);
  }
  for (int i = 0; i < SLOTS; i++) { int m = take(next_pool(1), UP); up_units++; expose(m); }
}
static void trial(Key key) {
  begin(key);
  for (;;) {
    double next = INFINITY;
    for (int k = 0; k < POOLS; k++) if (pools[k].next_at < next) next = pools[k].next_at;
    if (queue_at(&provisioning) < next) next = queue_at(&provisioning);
    if (queue_at(&setting_up) < next) next = queue_at(&setting_up);
    if (attempt_at < next) next = attempt_at;
    if (next >= HORIZON) break;
    pass_until(next);
    int changed = 0;
    for (int k = 0; k < POOLS; k++) {
      Pool *p = &pools[k];
      if (p->next_at > now) continue;
      if (p->spell_at == now) {
        expose_until(p, now);
        p->dry = !p->dry;
        p->spell_at = now + round(exponential(p->spell_key, p->spells++) * (p->dry ? DRY : AVAILABLE));
        p->available_since = p->dry ? INFINITY : now;
        refresh(p);
        changed = 1;
      }
      if (p->reclaim_at == now) {
        for (int m = 0; m <= SLOTS; m++)
          if (pool_of[m] == k && state_of[m] >= SET_UP &&
              draw(p->spared_key.a + number_of[m], p->spared_key.b, p->reclaims) < SHARE) evict(m);
        p->reclaim_at = now + round(exponential(p->reclaim_key, ++p->reclaims) / (RECLAIM / HOUR));
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
      if (m < 0) continue;
      state_of[m] = UP;
      up_units++;
      replaced++;
      replaced_ms += now - evicted_at[m];
    }
    if (changed || attempt_now || attempt_at == now) attempts();
  }
  pass_until(HORIZON);
  if (short_since >= 0 && now - short_since > longest) longest = now - short_since;
  double cost = 0;
  for (int k = 0; k < POOLS; k++) { bill(&pools[k], 0); cost += pools[k].cost; }
  sum_evictions += evictions;
  sum_missing += missing / HOUR;
  sum_cost += cost / HOUR;
  sum_longest += longest / HOUR;
  sum_refill += replaced_ms / replaced / 60000;
}

int main(int count, char **words) {
  int trials = count > 1 ? atoi(words[1]) : 1000;
  char name[] = "pool-0";
  for (int k = 0; k < POOLS; k++) { name[5] = (char)('0' + k); pools[k].word = word_of(name); }
  Key seed = under((Key){0x243f6a88u, 0x13198a2eu}, mixed(1) ^ mixed(GOLDEN));
  for (int t = 0; t < trials; t++) trial(under(seed, (uint32_t)t));
  printf("%.9f %.9f %.9f %.9f %.9f\n", sum_evictions / trials, sum_missing / trials, sum_cost / trials,
         sum_longest / trials, sum_refill / trials);
}
