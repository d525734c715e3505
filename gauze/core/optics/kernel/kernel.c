/* The innermost loops of the light: sums over pairs of places, patches and emitters.
 *
 * Formulas and sources stand in the Python modules that call them; here they are only made fast. Arrays are contiguous. No function keeps anything, allocates anything or calls a library: all are safe in threads.
 * Loops over a block of places or patches are written so that the compiler makes vectors of them.
 */

#include <stdint.h>

#define EXPORT __attribute__((visibility("default")))
#define BLOCK 256          /* places or patches at a time: their numbers stay in the first-level cache */
#define CHUNK 64           /* emitters whose light is summed in single precision before it is added in double */
#define MOST_COLUMNS 3     /* of flux: three colours, or X, Y and Z */
#define GAMMAS 181         /* rows and columns of a measured distribution: every degree of gamma, every 5 of C */
#define PLANES 73
#define ROWS_AT_ONCE 16    /* of a matrix that is turned over */
#define PI 3.14159265358979323846

#include "elementary.h"
#include "mitres.h"
#include "emitters.h"
#include "patches.h"
#include "factors.h"
#include "outlook.h"
#include "cells.h"
#include "sums.h"
#include "exchange.h"
