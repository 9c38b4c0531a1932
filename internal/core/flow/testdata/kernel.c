/* The film's step in plain C, to measure the Go one by: TR-BDF2 with alternating
 * directions in delta form on a closed board of n by n cells that is wet all over,
 * fluxes between cells kept, as package flow does it, on one core. It prints the
 * nanoseconds a cell and step, and how much of the volume is still there. */
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

static const double gravity = 9.80665;
static int n;
static double cell, scale;
static double *h, *start, *mid, *mx, *my, *fx, *fy, *qx, *qy, *sx, *sy, *rhs, *c;

static void faces(void) {
  for (int y = 0; y < n; y++)
    for (int x = 0; x < n; x++) {
      int i = y * n + x;
      double a = h[i];
      mx[i] = my[i] = 0;
      if (x + 1 < n) { double b = h[i + 1]; mx[i] = scale * (a * a + b * b) * (a + b); }
      if (y + 1 < n) { double b = h[i + n]; my[i] = scale * (a * a + b * b) * (a + b); }
    }
}

static void flow(double *x, double *y) {
  for (int i = 0; i < n * n; i++) {
    x[i] = i + 1 < n * n ? mx[i] * (h[i] - h[i + 1]) : 0;
    y[i] = i + n < n * n ? my[i] * (h[i] - h[i + n]) : 0;
  }
}

static void sweep(double a, double b, int last, double share) {
  for (int y = 0; y < n; y++) {
    for (int x = 0; x < n; x++) {
      int i = y * n + x;
      double g = a * (qx[i] + qy[i]) + b * (fx[i] + fy[i]);
      if (x) g -= a * qx[i - 1] + b * fx[i - 1];
      if (y) g -= a * qy[i - n] + b * fy[i - n];
      rhs[i] = mid[i] - h[i] - g;
    }
    double below = 0, rest = 0, before = 0;
    for (int x = 0; x < n; x++) {
      int i = y * n + x;
      double up = a * mx[i], own = 1 + below * rest, inv = 1 / (own + up);
      rest = own * inv;
      before = (rhs[i] + below * before) * inv;
      c[i] = 1 - rest;
      rhs[i] = before;
      below = up;
    }
    for (int i = y * n + n - 2; i >= y * n; i--) rhs[i] += c[i] * rhs[i + 1];
    if (last)
      for (int x = 0; x < n; x++) {
        int i = y * n + x;
        double v = a * qx[i] + b * fx[i];
        if (x + 1 < n) v += a * mx[i] * (rhs[i] - rhs[i + 1]);
        sx[i] += share * v;
        sy[i] += share * (a * qy[i] + b * fy[i]);
      }
  }
  for (int y = 0; y < n; y++)
    for (int x = 0; x < n; x++) {
      int i = y * n + x;
      double below = 0, rest = 0, before = 0;
      if (y) { below = a * my[i - n]; rest = c[i - n]; before = rhs[i - n]; }
      double own = 1 + below * rest, inv = 1 / (own + a * my[i]);
      c[i] = own * inv;
      rhs[i] = (rhs[i] + below * before) * inv;
    }
  for (int y = n - 2; y >= 0; y--)
    for (int i = y * n; i < (y + 1) * n; i++) rhs[i] += (1 - c[i]) * rhs[i + n];
  for (int i = 0; i < n * n; i++) {
    h[i] += rhs[i];
    if (last && i + n < n * n) sy[i] += share * a * my[i] * (rhs[i] - rhs[i + n]);
  }
}

static void step(double s) {
  const double gamma = 2 - sqrt(2), a = gamma / 2 * s;
  const double to = 1 / (gamma * (2 - gamma)), from = (1 - gamma) * (1 - gamma) / (gamma * (2 - gamma));
  size_t size = sizeof(double) * n * n;
  memcpy(start, h, size);
  memcpy(mid, h, size);
  memset(sx, 0, size);
  memset(sy, 0, size);
  faces();
  flow(fx, fy);
  for (int k = 0; k < 2; k++) {
    if (k) faces();
    flow(qx, qy);
    sweep(a, a, k == 1, to);
  }
  for (int i = 0; i < n * n; i++) {
    double was = mid[i];
    mid[i] = to * h[i] - from * was;
    h[i] += (1 - gamma) / gamma * (h[i] - was);
  }
  faces();
  flow(qx, qy);
  sweep(a, 0, 1, 1);
  for (int y = 0; y < n; y++)
    for (int x = 0; x < n; x++) {
      int i = y * n + x;
      double out = sx[i] + sy[i] - (x ? sx[i - 1] : 0) - (y ? sy[i - n] : 0);
      h[i] = start[i] - out;
    }
}

int main(int argc, char **argv) {
  n = argc > 1 ? atoi(argv[1]) : 256;
  int steps = argc > 2 ? atoi(argv[2]) : 100;
  cell = 0.6 / n;
  scale = gravity / (12 * cell * cell);
  double **all[] = {&h, &start, &mid, &mx, &my, &fx, &fy, &qx, &qy, &sx, &sy, &rhs, &c};
  for (size_t k = 0; k < sizeof all / sizeof *all; k++) *all[k] = calloc((size_t)n * n, sizeof(double));
  double before = 0, after = 0;
  for (int i = 0; i < n * n; i++) {
    double x = (i % n + 0.5) / n - 0.5, y = (i / n + 0.5) / n - 0.5;
    h[i] = 1e-3 + 3e-3 * exp(-40 * (x * x + y * y));
    before += h[i];
  }
  struct timespec t0, t1;
  clock_gettime(CLOCK_MONOTONIC, &t0);
  for (int k = 0; k < steps; k++) step(20);
  clock_gettime(CLOCK_MONOTONIC, &t1);
  for (int i = 0; i < n * n; i++) after += h[i];
  double ns = (t1.tv_sec - t0.tv_sec) * 1e9 + (t1.tv_nsec - t0.tv_nsec);
  printf("%.1f ns a cell and step, volume kept to %.1e\n", ns / steps / n / n, fabs(after / before - 1));
  return 0;
}
