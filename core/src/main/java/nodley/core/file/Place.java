package nodley.core.file;

/** Position in a form file; line and column are counted from 1. */
record Place(int line, int column) {}
