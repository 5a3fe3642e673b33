package nodley.cli;

import java.util.HashSet;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.StreamSupport;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code nodley types}: prints the TypeScript types of a form's values. */
@Command(
    name = "types",
    description = "Prints the TypeScript types of a form's values.",
    footerHeading = "%nExamples:%n",
    footer = {"  nodley types visit > src/visit.ts"})
final class TypesCommand extends ServiceCommand {

  @Parameters(paramLabel = "NAME", description = "The name of the form.")
  private String name;

  @Override
  public Integer call() {
    JsonNode schema = client().get("/forms/" + Client.part(name) + "/schema");
    if (!printedJson(schema)) {
      out().println("/** The values of form " + name + ", as records and verdicts have them. */");
      out().println("export interface " + typeName(name) + " " + object(schema, ""));
    }
    return Cli.ACCEPTED;
  }

  /** {@code incident-report} becomes IncidentReport. */
  private static String typeName(String form) {
    StringBuilder out = new StringBuilder();
    for (String word : form.split("-")) {
      if (!word.isEmpty()) {
        out.append(Character.toUpperCase(word.charAt(0))).append(word.substring(1));
      }
    }
    return out.toString();
  }

  private static String object(JsonNode schema, String indent) {
    Set<String> required = new HashSet<>();
    schema.path("required").forEach(it -> required.add(it.asString()));
    StringBuilder out = new StringBuilder("{\n");
    schema
        .path("properties")
        .propertyStream()
        .forEach(
            it -> {
              JsonNode property = it.getValue();
              String doc = property.path("title").asString("").replace("*/", "* /");
              out.append(indent).append("  /** ").append(doc).append(" */\n");
              out.append(indent)
                  .append("  ")
                  .append(it.getKey())
                  .append(required.contains(it.getKey()) ? ": " : "?: ")
                  .append(type(property, indent + "  "))
                  .append(";\n");
            });
    return out.append(indent).append('}').toString();
  }

  private static String type(JsonNode schema, String indent) {
    if (schema.has("const")) {
      return schema.path("const").toString();
    }
    if (schema.has("enum")) {
      return StreamSupport.stream(schema.path("enum").spliterator(), false)
          .map(JsonNode::toString)
          .collect(Collectors.joining(" | "));
    }
    return switch (schema.path("type").asString()) {
      case "integer", "number" -> "number";
      case "boolean" -> "boolean";
      case "object" -> object(schema, indent);
      case "array" -> {
        String item = type(schema.path("items"), indent);
        yield (item.contains(" | ") ? "(" + item + ")" : item) + "[]";
      }
      default -> "string";
    };
  }
}
