package nodley.core.file;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Supplier;
import nodley.core.form.Form;

/**
 * What a form file may refer to outside itself (other forms, lists, parts, themes) and the name
 * that its form must have. Immutable. It is told each use, so that the publisher knows which forms
 * depend on a file.
 *
 * @param forms the other forms by name; empty if they cannot be known, as when a file is read alone
 * @param shared the lists, parts and themes there are
 * @param name the name that the file's form must have, where its place has given it one already
 * @param outside what the settings of the service have outside; empty if it cannot be known
 * @param uses is told all that is looked for, whether it is there or not
 */
public record FormRegistry(
    Optional<Map<String, Supplier<Form>>> forms,
    Shared shared,
    Optional<String> name,
    Optional<Outside> outside,
    Consumer<Use> uses) {

  /** Nothing is known: references are taken as right. */
  public static final FormRegistry UNKNOWN = alone(Shared.NONE);

  /** Something outside a file that the file refers to: what it means depends on it. */
  public record Use(Kind kind, String name) {

    /** The kinds of files that others refer to. */
    public enum Kind {
      FORM,
      LIST,
      PART,
      THEME
    }
  }

  /**
   * What the settings of the service have outside of it.
   *
   * @param outlets the names of those that are told of submissions
   * @param asks the names of those that can be asked
   * @param sources the databases that forms may look things up in
   * @param sendsConfirmations true if mails can be sent whose links confirm an address
   */
  public record Outside(
      Set<String> outlets, Set<String> asks, Sources sources, boolean sendsConfirmations) {

    public Outside {
      outlets = Set.copyOf(outlets);
      asks = Set.copyOf(asks);
    }
  }

  /** A registry of forms that have been read, and of what they share. */
  public static FormRegistry of(Map<String, Form> forms, Shared shared) {
    Map<String, Supplier<Form>> known = new LinkedHashMap<>();
    forms.forEach((name, form) -> known.put(name, () -> form));
    return ofUnread(known, shared);
  }

  /** The same with forms that are only read where they are referred to. */
  public static FormRegistry ofUnread(Map<String, Supplier<Form>> forms, Shared shared) {
    return new FormRegistry(
        Optional.of(forms), shared, Optional.empty(), Optional.empty(), _ -> {});
  }

  /** The same, for a file that must declare this form. */
  public FormRegistry named(String name) {
    return new FormRegistry(forms, shared, Optional.of(name), outside, uses);
  }

  /** The same, where the settings of the service have this outside. */
  public FormRegistry with(Outside outside) {
    return new FormRegistry(forms, shared, name, Optional.of(outside), uses);
  }

  /** The same without knowing forms, but with what they share. */
  public static FormRegistry alone(Shared shared) {
    return new FormRegistry(Optional.empty(), shared, Optional.empty(), Optional.empty(), _ -> {});
  }

  /** The same, telling what is looked for. */
  public FormRegistry telling(Consumer<Use> uses) {
    return new FormRegistry(forms, shared, name, outside, uses);
  }

  /** Another form; nothing if it is not there, or if forms are not known. */
  Optional<Form> form(String name) {
    uses.accept(new Use(Use.Kind.FORM, name));
    return forms.map(known -> known.get(name)).map(Supplier::get);
  }

  /** True if forms are known, and this one is not there. */
  boolean lacksForm(String name) {
    return form(name).isEmpty() && forms.isPresent();
  }

  /** The names of the other forms; none if they cannot be known. */
  Set<String> formNames() {
    return forms.map(Map::keySet).orElse(Set.of());
  }

  /** A shared list of options; empty if there is none of this name. */
  Optional<ListFile> list(String name) {
    uses.accept(new Use(Use.Kind.LIST, name));
    return Optional.ofNullable(shared.lists().get(name));
  }

  /** A shared part; empty if there is none of this name. */
  Optional<PartFile> part(String name) {
    uses.accept(new Use(Use.Kind.PART, name));
    return Optional.ofNullable(shared.parts().get(name));
  }

  /** True if there is a theme of this name. */
  boolean hasTheme(String name) {
    uses.accept(new Use(Use.Kind.THEME, name));
    return shared.themes().containsKey(name);
  }
}
