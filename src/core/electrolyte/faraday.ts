/** Ah of acid per g of water to mol/kg: one Faraday uses one mole. */
export const MOLALITY_PER_AH_AND_G = (3600 / 96_485.332) * 1000;
/** Water made by a discharge: 1 mol per Faraday, g per Ah. */
export const REACTION_WATER_G = 0.672;
