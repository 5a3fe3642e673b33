package nodley.service.caller;

import java.util.List;
import java.util.Locale;
import java.util.Set;
import nodley.store.access.IssuedPerson;
import nodley.store.access.Person;
import nodley.store.access.Roles;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.context.SecurityContextHolder;

/**
 * Who sends a request: a stranger, a person, or a program with a key; or somebody whose token is
 * not good, which is told to them instead of being taken for a stranger's request. Immutable. Found
 * once for each request, by {@link Authenticator}.
 */
public sealed interface Caller {

  /**
   * Nothing was shown.
   *
   * @param browser tells the stranger's browser from others, by a signed cookie; empty if it has
   *     none
   */
  record Stranger(String browser, List<Locale> languages) implements Caller {}

  /**
   * A key or a pass was shown that is not good, or not good any more.
   *
   * @param reason says so in a sentence
   */
  record InvalidToken(String reason, List<Locale> languages) implements Caller {}

  /** A person's session came along with a change that a page of another site sent. */
  record CrossSiteRequest(List<Locale> languages) implements Caller {}

  /**
   * A person who has signed in, or a program that showed its key; or whoever signed in with one.
   *
   * @param name unique among people and keys at any one time; of who shows a pass, the id
   * @param displayName what others are shown
   * @param person the id of the person; empty for whoever holds a key
   * @param email the person's address; empty if none is known
   * @param program true if the key itself was shown, as no page does
   * @param roles what the caller may do besides what everybody may who is signed in
   * @param forms the forms that the key or the pass is good for; empty for all
   */
  record Known(
      String name,
      String displayName,
      String person,
      String email,
      boolean program,
      Set<String> roles,
      Set<String> forms,
      List<Locale> languages)
      implements Caller {

    /** The caller that a person is who is kept here. */
    static Known of(Person person, List<Locale> languages) {
      return person(
          person.name(), person.name(), person.id(), person.email(), person.roles(), languages);
    }

    /** The service itself, which may read everything. */
    public static final Known SERVICE =
        new Known("", "", "", "", true, Set.of(Roles.ADMIN), Set.of(), List.of());

    /** The caller that somebody is of whom an issuer tells. */
    static Known of(IssuedPerson person, List<Locale> languages) {
      return person(
          person.id(), person.name(), person.id(), person.email(), person.roles(), languages);
    }

    private static Known person(
        String name,
        String displayName,
        String id,
        String email,
        Set<String> roles,
        List<Locale> languages) {
      return new Known(name, displayName, id, email, false, roles, Set.of(), languages);
    }

    /** True if the caller has a role, or may do everything. */
    public boolean has(String role) {
      return roles.contains(role) || roles.contains(Roles.ADMIN);
    }

    /** True if the key or the pass is good for a form. */
    public boolean isFor(String form) {
      return forms.isEmpty() || forms.contains(form);
    }
  }

  /** What the caller wants to read, the best first. */
  List<Locale> languages();

  /** The name of who sends; empty if nobody is known. */
  default String name() {
    return this instanceof Known known ? known.name() : "";
  }

  /** What the name of who sends is to others; empty if nobody is known. */
  default String displayName() {
    return "";
  }

  /** The id of the person who sends; empty if it is a program, or nobody known. */
  default String person() {
    return "";
  }

  /**
   * Whose files are that are not submitted yet: a person's, a key's, or a browser's; empty for a
   * stranger whose browser is not known.
   */
  default String uploader() {
    return switch (this) {
      case Known known -> known.person().isEmpty() ? "key:" + known.name() : known.person();
      case Stranger(String browser, List<Locale> _) ->
          browser.isEmpty() ? "" : "browser:" + browser;
      case InvalidToken _, CrossSiteRequest _ -> "";
    };
  }

  default boolean isKnown() {
    return this instanceof Known;
  }

  /** The caller of the request that this thread answers. */
  static Caller current() {
    Authentication authentication = SecurityContextHolder.getContext().getAuthentication();
    return authentication instanceof CallerToken token
        ? token.caller()
        : new Stranger("", List.of());
  }
}
