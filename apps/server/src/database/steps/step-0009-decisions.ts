import { Migration } from '@mikro-orm/migrations'

/** By when an item of a plan is decided, what is done otherwise, and whether it cannot be undone. */
export class Step0009Decisions extends Migration {
  override up(): void {
    this.addSql(
      `alter table "item" add column "decide_by" text, add column "otherwise" text, add column "is_final" boolean not null default false`,
    )
    this.addSql(`alter table "item" alter column "is_final" drop default`)
  }
}
