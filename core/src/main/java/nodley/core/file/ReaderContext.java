package nodley.core.file;

/** What all readers of one form file share. For one reading. */
record ReaderContext(String form, Errors errors, FormRegistry registry, SymbolTable root) {}
