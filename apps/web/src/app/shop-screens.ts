/** The screens of the whole shop, fetched together. */
export { PlannerScreen } from "../features/planner/planner-screen.tsx";
export { ShopScreen } from "../features/shop/shop-screen.tsx";
