/** The screens of the shop's vehicles, fetched together. */
export { VehiclesScreen } from "../features/vehicles/vehicles-screen.tsx";
export { NewVehicleScreen } from "../features/vehicles/new-vehicle-screen.tsx";
export { PlugScreen } from "../features/plug/plug-screen.tsx";
export { VehicleLayout } from "../features/vehicles/vehicle-layout.tsx";
export { CircuitTab } from "../features/vehicles/circuit-tab.tsx";
export { WhatIfTab } from "../features/vehicles/what-if-tab.tsx";
export { SharedTab } from "../features/vehicles/shared-tab.tsx";
export { GroundsTab } from "../features/vehicles/grounds-tab.tsx";
export { FusesTab } from "../features/vehicles/fuses-tab.tsx";
export { BusesTab } from "../features/vehicles/buses-tab.tsx";
export { LoomsTab } from "../features/vehicles/looms-tab.tsx";
export { FaceTab } from "../features/vehicles/face-tab.tsx";
export { TextTab } from "../features/vehicles/text-tab.tsx";
export { TransferTab } from "../features/vehicles/transfer-tab.tsx";
export { ShelfScreen, ShelfTab } from "../features/vehicles/shelf-tab.tsx";
export { VersionsTab } from "../features/vehicles/versions-tab.tsx";
