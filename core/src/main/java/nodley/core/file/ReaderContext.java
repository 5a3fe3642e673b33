package nodley.core.file;

/** What every reader of a form file has at hand. */
record ReaderContext(String form, Errors errors, FormRegistry surroundings, SymbolTable root) {}
