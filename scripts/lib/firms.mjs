// More firms like the demo's, for measures of many.

/** What opens something by a secret of its own is one firm's only; so is what a device has sent. */
const LEFT_OUT = new Set(["session", "password_reset", "command", "import_file"]);

/** The tables that hold firms' rows, with their columns. */
export async function firmTables(db) {
  const { rows } = await db.query(`
    select table_name as name,
      json_agg(json_build_object('name', column_name, 'type', udt_name) order by ordinal_position) as columns
    from information_schema.columns as one
    where table_schema = 'public' and is_generated = 'NEVER' and is_identity = 'NO'
      and (table_name = 'firm' or exists (
        select from information_schema.columns as firm where firm.table_schema = 'public'
          and firm.table_name = one.table_name and firm.column_name = 'firm_id'))
    group by table_name`);
  return rows.filter(
    ({ name, columns }) => !LEFT_OUT.has(name) && !columns.some((one) => one.name === "token_hash"),
  );
}

/**
 * Firms like the demo's, numbered from one number to another: every key is made anew, the same for the same
 * number, and people sign in with the number in their address (jory+7@…). As one who is held by no rule between rows.
 */
export async function copyFirm(db, tables, from, to) {
  const { rows } = await db.query("select firm_id as id from member where email = 'jory@fennmoor.example'");
  const key = (column) => `md5(${column}::text || n)::uuid`;
  for (const { name, columns } of tables) {
    const values = columns.map((one) => {
      const column = `"${one.name}"`;
      if (one.type === "uuid") return key(column);
      if (one.type === "_uuid") return `array(select ${key("one")} from unnest(${column}) as one)`;
      if (name === "member" && one.name === "email") return `replace(${column}, '@', '+' || n || '@')`;
      return column;
    });
    await db.query(
      `insert into "${name}" (${columns.map((one) => `"${one.name}"`).join(", ")})
       select ${values.join(", ")} from "${name}", generate_series($1::int, $2::int) as n
       where ${name === "firm" ? "id" : "firm_id"} = $3`,
      [from, to, rows[0].id],
    );
  }
}
