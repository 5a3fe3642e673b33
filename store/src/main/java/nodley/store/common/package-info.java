/**
 * What every part of the store and its callers share: stored records, errors, limits, times.
 * Depends on nothing else here.
 */
package nodley.store.common;
