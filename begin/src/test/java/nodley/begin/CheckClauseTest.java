package nodley.begin;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Checks of tables, as each database prints them. */
class CheckClauseTest {

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '"',
      value = {
        // SQLite: as they were written.
        "rig IN ('sail', 'it''s other')      | OneOf[column=rig, values=[sail, it's other]]",
        "\"\"\"Rig\"\" in ( 'a (b), c' )\"         | OneOf[column=Rig, values=[a (b), c]]",
        "crew in (1, -2, 3.5)                | OneOf[column=crew, values=[1, -2, 3.5]]",
        "depth BETWEEN 0.5 AND 30            | Between[column=depth, least=Optional[0.5],"
            + " most=Optional[30]]",
        "length(code) <= 12                  | Length[column=code, most=12]",
        "length(code) < 12                   | Length[column=code, most=11]",
        // PostgreSQL: pg_get_expr of a server of version 15.
        "((depth >= 0.5) AND (depth <= (30)::numeric))  | Between[column=depth,"
            + " least=Optional[0.5], most=Optional[30]]",
        "((rig)::text = ANY ((ARRAY['sail'::character varying, 'motor'::character"
            + " varying])::text[])) | OneOf[column=rig, values=[sail, motor]]",
        "(length((code)::text) <= 12)        | Length[column=code, most=12]",
        "(depth >= '-5'::integer)            | Between[column=depth, least=Optional[-5],"
            + " most=Optional.empty]",
        // MariaDB: check_clause of a server of version 10.11.
        "`depth` between 0.5 and 30          | Between[column=depth, least=Optional[0.5],"
            + " most=Optional[30]]",
        "`rig` in ('sail','motor')           | OneOf[column=rig, values=[sail, motor]]",
        "char_length(`code`) <= 12           | Length[column=code, most=12]",
        // What no key says.
        "depth > 0                           | Other[sql=depth > 0]",
        "a >= 1 AND b <= 2                   | Other[sql=a >= 1 AND b <= 2]",
        "a >= b                              | Other[sql=a >= b]",
        "rig IN (SELECT name FROM rigs)      | Other[sql=rig IN (SELECT name FROM rigs)]",
        "rig NOT IN ('a')                    | Other[sql=rig NOT IN ('a')]",
        "rig IN ('a') OR depth > 3           | Other[sql=rig IN ('a') OR depth > 3]",
        "length(code) <= 99999999999         | Other[sql=length(code) <= 99999999999]",
        "'                                   | Other[sql=']",
      })
  void aConditionIsReadWhateverItIsPrintedBy(String sql, String read) {
    assertThat(CheckClause.read(sql)).hasToString(read);
  }

  @Test
  void theyAreFoundInAStatement() {
    assertThat(
            CheckClause.within(
                "CREATE TABLE t (a TEXT CHECK (a IN (')', 'CHECK (x)')), b INT check((b) > 1), c"))
        .containsExactly("a IN (')', 'CHECK (x)')", "(b) > 1");
    assertThat(CheckClause.within("CHECK (a")).containsExactly("a");
    assertThat(CheckClause.within("CHECK (")).containsExactly("");
  }
}
