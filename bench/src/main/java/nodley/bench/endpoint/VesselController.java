package nodley.bench.endpoint;

import java.math.BigDecimal;
import java.net.URI;
import java.sql.SQLException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.regex.Pattern;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;
import org.sqlite.SQLiteErrorCode;
import org.sqlite.SQLiteException;

/** {@code POST /checks} and {@code POST /vessels}. */
@RestController
class VesselController {

  private static final Pattern SPACES = Pattern.compile("\\s+");
  private static final Pattern OTHERS = Pattern.compile("[^A-Za-z0-9]");
  private static final Pattern CALL_SIGN = Pattern.compile("[A-Z]{1,2}[0-9][A-Z0-9]*");
  private static final Pattern OFFICIAL_NUMBER = Pattern.compile("[0-9]{6,12}");
  private static final List<String> RIGS = List.of("sail", "motor", "fishing", "tug");
  private static final LocalDate FIRST_BUILT = LocalDate.of(1850, 1, 1);
  private static final LocalDate LAST_BUILT = LocalDate.of(2030, 12, 31);

  private final Vessels vessels;

  VesselController(Vessels vessels) {
    this.vessels = vessels;
  }

  record FieldError(String field, String code, String message) {}

  record Checked(boolean valid, Vessel values, List<FieldError> errors) {}

  record Kept(long id, int version, Vessel values) {}

  /** A live check, of the two unique fields. */
  @PostMapping("/checks")
  Checked check(@RequestBody Vessel sent) throws SQLException {
    Vessel vessel = tidied(sent);
    List<FieldError> errors = new ArrayList<>();
    callSign(vessel, errors);
    officialNumber(vessel, errors);
    if (errors.isEmpty()) {
      errors.addAll(taken(vessel));
    }
    return new Checked(errors.isEmpty(), vessel, errors);
  }

  @PostMapping("/vessels")
  ResponseEntity<?> add(@RequestBody Vessel sent) throws SQLException {
    Vessel vessel = tidied(sent);
    List<FieldError> errors = validate(vessel);
    if (!errors.isEmpty()) {
      return ResponseEntity.unprocessableContent().body(new Checked(false, vessel, errors));
    }
    errors = taken(vessel);
    if (errors.isEmpty()) {
      try {
        long id = vessels.insert(vessel);
        return ResponseEntity.created(URI.create("/vessels/" + id))
            .eTag("\"1\"")
            .body(new Kept(id, 1, vessel));
      } catch (SQLiteException e) {
        if (e.getResultCode() != SQLiteErrorCode.SQLITE_CONSTRAINT_UNIQUE) {
          throw e;
        }
        errors = taken(vessel);
      }
    }
    return ResponseEntity.status(409).body(new Checked(false, vessel, errors));
  }

  private static Vessel tidied(Vessel sent) {
    return new Vessel(
        sent.name() == null ? null : SPACES.matcher(sent.name().strip()).replaceAll(" "),
        sent.callSign() == null
            ? null
            : OTHERS.matcher(sent.callSign()).replaceAll("").toUpperCase(Locale.ROOT),
        sent.officialNumber() == null ? null : sent.officialNumber().strip(),
        sent.rig() == null ? "sail" : sent.rig(),
        sent.length(),
        sent.draught(),
        sent.crew(),
        sent.built(),
        sent.insured(),
        sent.notes() == null ? null : sent.notes().strip());
  }

  private static List<FieldError> validate(Vessel it) {
    List<FieldError> errors = new ArrayList<>();
    if (it.name() == null || it.name().isEmpty()) {
      errors.add(new FieldError("name", "required", "Please fill in the name."));
    } else if (it.name().length() < 2 || it.name().length() > 60) {
      errors.add(new FieldError("name", "length", "The name has 2 to 60 characters."));
    }
    callSign(it, errors);
    officialNumber(it, errors);
    if (!RIGS.contains(it.rig())) {
      errors.add(new FieldError("rig", "choice", it.rig() + " is not a kind of vessel."));
    }
    if (it.length() == null) {
      errors.add(new FieldError("length", "required", "Please fill in the length."));
    } else if (outside(it.length(), 2, 60)) {
      errors.add(new FieldError("length", "range", "The length is 2 to 60 m."));
    }
    if (it.draught() != null && outside(it.draught(), 0, 9)) {
      errors.add(new FieldError("draught", "range", "The draught is 0 to 9 m."));
    }
    if (it.crew() != null && (it.crew() < 1 || it.crew() > 40)) {
      errors.add(new FieldError("crew", "range", "The crew is 1 to 40."));
    }
    if (it.built() != null
        && (it.built().isBefore(FIRST_BUILT) || it.built().isAfter(LAST_BUILT))) {
      errors.add(new FieldError("built", "range", "The date is from 1850 to 2030."));
    }
    if (it.insured() == null || !it.insured()) {
      errors.add(new FieldError("insured", "required", "Insurance is needed."));
    }
    if (it.notes() != null && it.notes().length() > 600) {
      errors.add(new FieldError("notes", "length", "The notes have up to 600 characters."));
    }
    return errors;
  }

  private static void callSign(Vessel it, List<FieldError> errors) {
    if (it.callSign() == null || it.callSign().isEmpty()) {
      errors.add(new FieldError("callSign", "required", "Please fill in the call sign."));
    } else if (it.callSign().length() < 3 || it.callSign().length() > 8) {
      errors.add(new FieldError("callSign", "length", "A call sign has 3 to 8 characters."));
    } else if (!CALL_SIGN.matcher(it.callSign()).matches()) {
      errors.add(new FieldError("callSign", "pattern", it.callSign() + " is not a call sign."));
    }
  }

  private static void officialNumber(Vessel it, List<FieldError> errors) {
    if (it.officialNumber() == null || it.officialNumber().isEmpty()) {
      errors.add(new FieldError("officialNumber", "required", "Please fill in the number."));
    } else if (!OFFICIAL_NUMBER.matcher(it.officialNumber()).matches()) {
      errors.add(new FieldError("officialNumber", "pattern", "The number has 6 to 12 digits."));
    }
  }

  private static boolean outside(BigDecimal value, int from, int to) {
    return value.compareTo(BigDecimal.valueOf(from)) < 0
        || value.compareTo(BigDecimal.valueOf(to)) > 0
        || value.stripTrailingZeros().scale() > 2;
  }

  private List<FieldError> taken(Vessel vessel) throws SQLException {
    Vessels.Taken taken = vessels.taken(vessel);
    List<FieldError> errors = new ArrayList<>();
    if (taken.callSign()) {
      errors.add(
          new FieldError(
              "callSign", "taken", "Call sign " + vessel.callSign() + " is already registered."));
    }
    if (taken.officialNumber()) {
      errors.add(
          new FieldError(
              "officialNumber",
              "taken",
              "Official number " + vessel.officialNumber() + " is already registered."));
    }
    return errors;
  }
}
