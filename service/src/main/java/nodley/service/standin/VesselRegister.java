package nodley.service.standin;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A register of vessels that answers what a form asks of it. Made up. Stateless. */
final class VesselRegister {

  private record Vessel(String name, String length, String rig, String flag) {}

  private static final Map<String, Vessel> VESSELS =
      Map.of(
          "PX4TN", new Vessel("Second Wind", "13.2", "sail", "nl"),
          "PX7RD", new Vessel("Anna Maria", "21.8", "fishing", "pt"),
          "PX2LK", new Vessel("Morgenstern", "9.6", "sail", "de"),
          "PX9QC", new Vessel("Belle Île", "16.4", "motor", "fr"));

  private static final Map<String, String> STRUCK_OFF = Map.of("PX1ZZ", "2019");

  private VesselRegister() {}

  /**
   * Returns what it says of a call sign.
   *
   * @param flag which the asking form has, if it has one
   */
  static Map<String, Object> answer(String callSign, Optional<String> flag) {
    if (STRUCK_OFF.containsKey(callSign)) {
      return Map.of(
          "errors",
          List.of(
              Map.of(
                  "pointer", "#/callSign",
                  "code", "struck-off",
                  "detail",
                      callSign
                          + " was struck off the register in "
                          + STRUCK_OFF.get(callSign)
                          + ".")));
    }
    Vessel vessel = VESSELS.get(callSign);
    if (vessel == null) {
      return Map.of();
    }
    if (flag.filter(it -> !it.equals(vessel.flag())).isPresent()) {
      return Map.of(
          "errors",
          List.of(
              Map.of(
                  "pointer", "#/flag",
                  "code", "other-flag",
                  "detail", callSign + " sails under another flag, says the register.")));
    }
    Map<String, Object> fill = new LinkedHashMap<>();
    fill.put("name", vessel.name());
    fill.put("length", vessel.length());
    fill.put("rig", vessel.rig());
    fill.put("flag", vessel.flag());
    return Map.of("fill", fill);
  }
}
