package nodley.bench.endpoint;

import java.math.BigDecimal;
import java.time.LocalDate;

/** What is sent, and what is kept. */
record Vessel(
    String name,
    String callSign,
    String officialNumber,
    String rig,
    BigDecimal length,
    BigDecimal draught,
    Integer crew,
    LocalDate built,
    Boolean insured,
    String notes) {}
