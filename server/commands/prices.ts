import Joi from "joi";
import { type CustomerPrices, PRICE_LIMITS } from "#core";
import { setSitePrices, sitePrices } from "../db/accounts";
import { changesBetween, note } from "../db/audit";
import { command, NotThere, OWNERS } from "./command";
import { uuidSchema } from "./fields";

const price = Joi.number().min(PRICE_LIMITS.low).max(PRICE_LIMITS.high);
/** Products of a list of prices at most. */
const MOST_PRODUCTS = 200;

export const PRICE_COMMANDS = {
  /** What a customer pays, where that is not what everybody does. */
  "save-prices": command({
    may: OWNERS,
    schema: Joi.object<CustomerPrices & { siteId: string }>({
      siteId: uuidSchema,
      perVisit: price.allow(null).required(),
      products: Joi.object()
        .pattern(Joi.string().guid({ separator: "-" }), price)
        .max(MOST_PRODUCTS)
        .required(),
    }),
    async carryOut({ scope, author }, { siteId, ...prices }) {
      const site = await sitePrices(scope, siteId);
      if (!site) throw new NotThere();
      const changes = changesBetween({ perVisit: site.prices.perVisit }, { perVisit: prices.perVisit });
      await setSitePrices(scope, siteId, prices);
      await note(scope, author, "prices-changed", siteId, { name: site.name, changes });
    },
  }),
};
