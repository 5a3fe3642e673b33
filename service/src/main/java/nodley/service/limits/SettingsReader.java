package nodley.service.limits;

import java.lang.reflect.Parameter;
import java.lang.reflect.RecordComponent;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import nodley.core.name.Near;
import org.springframework.boot.context.properties.bind.BindException;
import org.springframework.boot.context.properties.bind.Bindable;
import org.springframework.boot.context.properties.bind.Binder;
import org.springframework.boot.context.properties.bind.Name;
import org.springframework.boot.context.properties.source.ConfigurationPropertyName;
import org.springframework.boot.origin.Origin;
import org.springframework.boot.origin.OriginLookup;
import org.springframework.boot.origin.TextResourceOrigin;
import org.springframework.context.support.GenericApplicationContext;
import org.springframework.core.ResolvableType;
import org.springframework.core.env.ConfigurableEnvironment;
import org.springframework.core.env.EnumerablePropertySource;
import org.springframework.core.env.PropertySource;
import org.springframework.core.env.StandardEnvironment;
import org.springframework.util.unit.DataSize;

/**
 * Reads Nodley's settings from Spring Boot's sources (file, environment, command line) and
 * registers them as beans. An unknown name under {@code nodley.}, or a value of the wrong type,
 * stops the start.
 */
public final class SettingsReader {

  private static final String PREFIX = "nodley.";

  /** Stands in the name of a setting for any that whoever sets it gives. */
  private static final String ANY = "*";

  private static final Map<String, Class<? extends Record>> GROUPS =
      Map.of(
          "nodley", OutwardSettings.class,
          "nodley.limits", Limits.class,
          "nodley.proxy", ProxySettings.class,
          "nodley.https", HttpsSettings.class,
          "nodley.scan", ScanSettings.class,
          "nodley.sign-in", SignInSettings.class);

  /** Takes a while to find by reflection, so it is found once. */
  private static final Map<String, Class<?>> KNOWN = collectKnown();

  private SettingsReader() {}

  /**
   * Registers the settings, and returns the limits, which are needed before the beans are made.
   *
   * @throws IllegalArgumentException if one is unknown or wrong, in a sentence for whoever set it
   */
  public static Limits register(GenericApplicationContext context) {
    ConfigurableEnvironment environment = context.getEnvironment();
    checkNames(environment);
    Binder binder = Binder.get(environment);
    Map<Class<?>, Record> bound = new HashMap<>();
    GROUPS.forEach((prefix, type) -> bound.put(type, register(context, binder, prefix, type)));
    return (Limits) bound.get(Limits.class);
  }

  private static <T> T register(
      GenericApplicationContext context, Binder binder, String prefix, Class<T> type) {
    T bound = bind(binder, prefix, type);
    context.registerBean(type, () -> bound);
    return bound;
  }

  private static <T> T bind(Binder binder, String prefix, Class<T> type) {
    try {
      return binder.bindOrCreate(prefix, Bindable.of(type));
    } catch (BindException e) {
      // The causes speak of Spring's own affairs, and are left out.
      for (Throwable cause = e; cause != null; cause = cause.getCause()) {
        // Ours say all by themselves.
        if (cause instanceof IllegalArgumentException own
            && String.valueOf(own.getMessage()).startsWith(PREFIX)) {
          throw own;
        }
      }
      Object value = e.getProperty() == null ? "" : e.getProperty().getValue();
      throw new IllegalArgumentException(
          e.getName()
              + " is \""
              + value
              + "\"; it must be "
              + right(e.getTarget().getType())
              + ".");
    }
  }

  private static String right(ResolvableType type) {
    Class<?> raw = type.toClass();
    if (raw == DataSize.class) {
      return "a size such as 512KB or 1MB";
    }
    return raw == Duration.class ? "a time such as 500ms, 20s or 5m" : "a whole number";
  }

  /** Every setting that there is, with its type, by its name. */
  static Map<String, Class<?>> known() {
    return KNOWN;
  }

  private static Map<String, Class<?>> collectKnown() {
    Map<String, Class<?>> known = new LinkedHashMap<>();
    GROUPS.keySet().stream().sorted().forEach(it -> collect(it, GROUPS.get(it), known));
    return Collections.unmodifiableMap(known);
  }

  private static void collect(String prefix, Class<?> type, Map<String, Class<?>> known) {
    Map<String, String> named = names(type);
    for (RecordComponent each : type.getRecordComponents()) {
      String name = prefix + "." + named.getOrDefault(each.getName(), kebab(each.getName()));
      ResolvableType component = ResolvableType.forType(each.getGenericType());
      Class<?> item = component.as(List.class).getGeneric().resolve(Object.class);
      Class<?> mapped = component.as(Map.class).getGeneric(1).resolve(Object.class);
      if (each.getType().isRecord()) {
        collect(name, each.getType(), known);
      } else if (item.isRecord()) {
        collect(name, item, known);
      } else if (mapped.isRecord()) {
        collect(name + "." + ANY, mapped, known);
      } else if (each.getType() == Map.class) {
        known.put(name + "." + ANY, mapped);
      } else {
        known.put(name, each.getType());
      }
    }
  }

  /** The names of those settings whose names are none in Java, by what they are called there. */
  private static Map<String, String> names(Class<?> type) {
    Map<String, String> names = new HashMap<>();
    for (Parameter parameter : type.getDeclaredConstructors()[0].getParameters()) {
      Name name = parameter.getAnnotation(Name.class);
      if (name != null) {
        names.put(parameter.getName(), name.value());
      }
    }
    return names;
  }

  private static String kebab(String name) {
    return name.replaceAll("([A-Z])", "-$1").toLowerCase(Locale.ROOT);
  }

  private static void checkNames(ConfigurableEnvironment environment) {
    for (PropertySource<?> source : environment.getPropertySources()) {
      if (source instanceof EnumerablePropertySource<?> names) {
        boolean variables =
            source.getName().equals(StandardEnvironment.SYSTEM_ENVIRONMENT_PROPERTY_SOURCE_NAME);
        for (String name : names.getPropertyNames()) {
          if (variables) {
            checkVariable(name);
          } else {
            check(name, origin(source, name));
          }
        }
      }
    }
  }

  private static void check(String name, Optional<String> origin) {
    String plain =
        ConfigurationPropertyName.adapt(name, '.').toString().replaceAll("\\[[0-9]+]", "");
    if (plain.startsWith(PREFIX) && !isKnown(plain, known().keySet(), "[^.]+")) {
      throw unknown(name, plain, new ArrayList<>(known().keySet()), origin);
    }
  }

  /** True if a name is one of those that are known, where some stand for any name. */
  private static boolean isKnown(String name, Collection<String> known, String any) {
    return known.contains(name)
        || known.stream()
            .filter(it -> it.contains(ANY))
            .anyMatch(it -> name.matches(Pattern.quote(it).replace(ANY, "\\E" + any + "\\Q")));
  }

  /** Other variables that begin with NODLEY_ are the launcher's and the client's. */
  private static void checkVariable(String name) {
    if (!name.startsWith(variable(PREFIX))) {
      return;
    }
    List<String> known = known().keySet().stream().map(SettingsReader::variable).toList();
    boolean ours =
        known().keySet().stream()
            .map(it -> it.replaceFirst("^(nodley\\.[^.]+)\\..*", "$1"))
            .anyMatch(group -> name.startsWith(variable(group) + "_"));
    String plain = name.replaceAll("_[0-9]+(?=_|$)", "");
    if (ours && !isKnown(plain, known, "[A-Z0-9_]+")) {
      throw unknown(name, name, known, Optional.of("the environment"));
    }
  }

  /** The environment variable of a setting: dots become underscores, hyphens go. */
  static String variable(String name) {
    return name.replace('.', '_').replace("-", "").toUpperCase(Locale.ROOT);
  }

  private static IllegalArgumentException unknown(
      String name, String plain, List<String> known, Optional<String> origin) {
    return new IllegalArgumentException(
        "There is no setting "
            + name
            + origin.map(it -> " (" + it + ")").orElse("")
            + "."
            + Near.to(plain, known).map(it -> " Did you mean " + it + "?").orElse(""));
  }

  private static Optional<String> origin(PropertySource<?> source, String name) {
    Origin origin = OriginLookup.getOrigin(source, name);
    return origin instanceof TextResourceOrigin text && text.getLocation() != null
        ? Optional.of(
            text.getResource().getFilename() + ", line " + (text.getLocation().getLine() + 1))
        : Optional.empty();
  }
}
