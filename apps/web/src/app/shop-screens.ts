/** The screens of the whole shop, fetched together. */
export { PracticeScreen } from "../features/practice/practice-screen.tsx";
export { PlannerScreen } from "../features/planner/planner-screen.tsx";
export { ShopScreen } from "../features/shop/shop-screen.tsx";
