package nodley.store.record;

import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Function;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.input.Unreadable;
import nodley.core.value.Raw;
import nodley.store.common.StoreException;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.ObjectReadContext;
import tools.jackson.core.json.JsonFactory;

/**
 * Reads the versions of one record, from one to the next. A member whose JSON has not changed since
 * the version before is not parsed again: it is the same object. For one thread.
 */
final class VersionReader {

  private static final InputLimits LIMITS = new InputLimits(Integer.MAX_VALUE, Integer.MAX_VALUE);
  private static final JsonFactory JSON = new JsonFactory();

  private static final String UNREADABLE = "A version that was kept cannot be read.";

  private Map<String, Member> members = Map.of();

  /**
   * @param json as it was kept
   * @param kept what it says
   * @param withoutRows the same in which no row says which one it is
   */
  private record Member(String json, Raw kept, Raw withoutRows) {}

  /** Reads the next version, as an object of JSON. */
  void read(String json) {
    Map<String, Member> read = new LinkedHashMap<>();
    try (JsonParser in = JSON.createParser(ObjectReadContext.empty(), json)) {
      boolean object = in.nextToken() == JsonToken.START_OBJECT;
      while (object && in.nextToken() == JsonToken.PROPERTY_NAME) {
        int name = (int) in.currentTokenLocation().getCharOffset();
        String called = in.currentName();
        in.nextToken();
        in.skipChildren();
        in.finishToken();
        String member = json.substring(name, (int) in.currentLocation().getCharOffset());
        Member before = members.get(called);
        read.put(called, before != null && before.json().equals(member) ? before : member(member));
      }
      if (!object || in.currentToken() != JsonToken.END_OBJECT || in.nextToken() != null) {
        throw new StoreException.Unavailable(UNREADABLE, null);
      }
    } catch (JacksonException | Unreadable e) {
      throw new StoreException.Unavailable(UNREADABLE, e);
    }
    members = read;
  }

  private static Member member(String json) throws Unreadable {
    byte[] object = ("{" + json + "}").getBytes(StandardCharsets.UTF_8);
    Map<String, Raw> read = JsonInput.read(object, LIMITS).members();
    Raw.Members kept = new Raw.Members(read);
    return new Member(json, only(kept), only(kept.withoutRows()));
  }

  private static Raw only(Raw.Members members) {
    return members.members().values().iterator().next();
  }

  Raw.Members kept() {
    return values(Member::kept);
  }

  Raw.Members withoutRows() {
    return values(Member::withoutRows);
  }

  private Raw.Members values(Function<Member, Raw> of) {
    Map<String, Raw> values = new LinkedHashMap<>();
    members.forEach((name, member) -> values.put(name, of.apply(member)));
    return new Raw.Members(values);
  }
}
