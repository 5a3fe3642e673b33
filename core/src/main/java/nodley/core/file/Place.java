package nodley.core.file;

/** Where something stands in a form file; line and column count from 1. */
record Place(int line, int column) {}
