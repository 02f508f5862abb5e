/** The items of Gannet Holm, all invented: code, name, unit, what it is, how much is used a day, price of one, packs. */
export interface DemoItem { readonly code: string; readonly name: string; readonly unit: string; readonly area: AreaName; readonly category: string; readonly perDay: number; readonly price: number; readonly decimals: number; readonly identifiedBy: 'quantity' | 'lot' | 'lot_expiry' | 'serial'; readonly pack: string | null; readonly size: number; readonly life: number; readonly supplier: string }
export type AreaName = 'Wet lab' | 'Sick bay' | 'Galley' | 'Boat shed'
export const AREAS: readonly AreaName[] = ['Wet lab', 'Sick bay', 'Galley', 'Boat shed']
const SUPPLIERS: Record<AreaName, string[]> = { 'Wet lab': ['Quillfern Lab Supply', 'Aster Reagents'], 'Sick bay': ['Sandling Medical'], Galley: ['Fallow Provisions', 'Skerrow Dairy'], 'Boat shed': ['Thole & Rowlock'] }

// code|name|unit|category|used a day|price of one|decimals|identified by (q, l, e, s)|pack=size|shelf life in days
const ROWS: Record<AreaName, string> = {
  'Wet lab': `ETH-96|Ethanol 96 %|L|Reagents|0.6|3.84|3|e|can=5|700
NIT-25|Nitrate test vial|vial|Test kits|2|1.34|0|e|kit=25|300
PHO-25|Phosphate test vial|vial|Test kits|1.4|1.42|0|e|kit=25|300
SIL-25|Silicate test vial|vial|Test kits|0.8|1.51|0|e|kit=25|300
AMM-25|Ammonium test vial|vial|Test kits|0.9|1.29|0|e|kit=25|300
FLT-045|Membrane filter 0.45 µm|pack|Filters|0.35|42.2|0|l|carton=10|0
FLT-020|Membrane filter 0.20 µm|pack|Filters|0.2|46.9|0|l|carton=10|0
GFF-47|Glass fibre filter 47 mm|pack|Filters|0.25|38.5|0|l||0
GLV-S|Nitrile gloves, small|box|Protection|0.3|7.9|0|q|case=10|0
GLV-M|Nitrile gloves, medium|box|Protection|0.8|7.9|0|q|case=10|0
GLV-L|Nitrile gloves, large|box|Protection|0.4|7.9|0|q|case=10|0
AGR-N|Agar plates, nutrient|plate|Media|3|0.92|0|e|sleeve=10|60
AGR-M|Agar plates, marine|plate|Media|2|1.04|0|e|sleeve=10|60
VIA-20|Sample vial 20 ml|each|Glass and plastic|6|0.31|0|q|tray=100|0
VIA-50|Centrifuge tube 50 ml|each|Glass and plastic|5|0.28|0|q|bag=25|0
PIP-1K|Pipette tips 1000 µl|rack|Glass and plastic|0.5|6.4|0|q|case=10|0
PIP-200|Pipette tips 200 µl|rack|Glass and plastic|0.7|5.9|0|q|case=10|0
PET-90|Petri dish 90 mm|each|Glass and plastic|4|0.16|0|q|sleeve=20|0
HCL-37|Hydrochloric acid 37 %|L|Reagents|0.05|9.8|3|l|bottle=1|0
NAO-1|Sodium hydroxide, pellets|kg|Reagents|0.04|14.2|3|l|jar=0.5|0
FOR-10|Formalin 10 %|L|Reagents|0.12|6.1|3|e|can=5|500
LUG-1|Lugol’s solution|ml|Reagents|12|0.05|0|e|bottle=500|400
BUF-4|Buffer pH 4.01|ml|Reagents|18|0.02|0|e|bottle=500|500
BUF-7|Buffer pH 7.00|ml|Reagents|22|0.02|0|e|bottle=500|500
H2O-U|Ultrapure water cartridge|each|Filters|0.01|184|0|s||0
CTD-B|Probe battery|each|Instruments|0.1|11.5|0|q|pack=4|0
LBL-T|Freezer label roll|roll|Paper|0.05|18.9|0|q||0
WIP-D|Lint-free wipes|pack|Protection|0.5|4.2|0|q|case=15|0
PAR-F|Sealing film|roll|Glass and plastic|0.05|24.5|0|q||0
CRY-2|Cryo tube 2 ml|each|Glass and plastic|3|0.42|0|q|bag=50|0`,
  'Sick bay': `DRS-10|Wound dressing 10 × 10 cm|each|Dressings|1.2|0.62|0|e|box=25|900
DRS-5|Wound dressing 5 × 5 cm|each|Dressings|1.5|0.38|0|e|box=50|900
PLA-A|Plaster strips, assorted|box|Dressings|0.15|3.1|0|q|carton=12|0
BAN-8|Elastic bandage 8 cm|each|Dressings|0.4|1.25|0|q|box=10|0
GAU-7|Gauze swabs 7.5 cm|pack|Dressings|0.3|2.3|0|e|box=20|1200
SAL-10|Saline ampoule 10 ml|each|Fluids|1.8|0.35|0|e|box=50|500
SAL-500|Saline bag 500 ml|each|Fluids|0.08|2.6|0|e|case=12|500
GLU-S|Glucose test strip|each|Tests|2|0.44|0|e|tube=50|240
URI-S|Urine test strip|each|Tests|0.5|0.29|0|e|tube=100|300
TMP-C|Thermometer cover|each|Tests|1.5|0.06|0|q|box=100|0
PAR-500|Paracetamol 500 mg|tablet|Medicines|4|0.03|0|e|pack=100|800
IBU-400|Ibuprofen 400 mg|tablet|Medicines|3|0.05|0|e|pack=50|800
SEA-25|Travel sickness tablet|tablet|Medicines|3.5|0.18|0|e|pack=20|700
ANT-H|Antihistamine tablet|tablet|Medicines|0.8|0.14|0|e|pack=30|800
HND-500|Hand rub 500 ml|bottle|Hygiene|0.3|3.4|0|e|case=12|700
MSK-2|Face mask|each|Hygiene|2|0.11|0|q|box=50|0
SYR-5|Syringe 5 ml|each|Instruments|0.6|0.14|0|l|box=100|0
NDL-21|Needle 21 G|each|Instruments|0.6|0.07|0|l|box=100|0
SPL-A|Splint, mouldable|each|Dressings|0.03|9.8|0|q||0
BLA-T|Thermal blanket|each|Dressings|0.05|2.1|0|q|pack=10|0
OXY-C|Oxygen cylinder 2 L|each|Instruments|0.01|96|0|s||0
EYE-20|Eye wash pod 20 ml|each|Fluids|0.2|0.9|0|e|box=25|600
TWZ-S|Splinter forceps, sterile|each|Instruments|0.1|1.1|0|e|box=20|1200
BIN-S|Sharps box 1 L|each|Hygiene|0.04|2.4|0|q|case=20|0`,
  Galley: `FLO-W|Wheat flour|kg|Dry goods|3.2|0.78|3|l|sack=25|0
FLO-R|Rye flour|kg|Dry goods|1.1|0.95|3|l|sack=10|0
OAT-R|Oats, rolled|kg|Dry goods|1.4|1.2|3|e|sack=5|200
RIC-B|Basmati rice|kg|Dry goods|1.3|1.85|3|l|sack=10|0
PAS-P|Penne|kg|Dry goods|1.6|1.3|3|l|case=6|0
SUG-W|Sugar|kg|Dry goods|0.9|0.98|3|q|sack=10|0
SAL-S|Sea salt|kg|Dry goods|0.12|1.1|3|q|box=1|0
YEA-D|Yeast, dried|pack|Dry goods|0.5|2.2|0|e|box=20|300
OIL-R|Rapeseed oil|L|Oils|0.7|2.1|3|l|can=10|0
OIL-O|Olive oil|L|Oils|0.35|7.4|3|l|can=5|0
BUT-S|Butter, salted|kg|Dairy|1.1|6.9|3|e|case=10|55
MIL-W|Milk|L|Dairy|6.5|0.92|3|e|crate=12|12
CRE-35|Cream 35 %|L|Dairy|0.8|3.6|3|e|carton=6|16
CHE-H|Hard cheese|kg|Dairy|0.6|9.4|3|e|wheel=5|80
YOG-P|Yoghurt, plain|kg|Dairy|1.2|2.3|3|e|pail=5|22
EGG-M|Eggs|each|Dairy|22|0.24|0|e|tray=30|24
POT-W|Potatoes|kg|Vegetables|5.5|0.72|3|q|sack=25|0
ONI-Y|Onions|kg|Vegetables|1.6|0.85|3|q|sack=10|0
CAR-O|Carrots|kg|Vegetables|1.9|0.9|3|q|sack=10|0
CAB-W|White cabbage|kg|Vegetables|1.2|0.8|3|q|crate=12|0
APP-R|Apples|kg|Vegetables|2.1|1.6|3|q|crate=12|0
LEM-U|Lemons|each|Vegetables|2|0.3|0|q|net=20|0
TOM-T|Tinned tomatoes|tin|Tins|2.2|0.74|0|e|case=24|700
BEA-T|Baked beans|tin|Tins|1.5|0.68|0|e|case=24|700
TUN-T|Tuna in brine|tin|Tins|1.1|1.35|0|e|case=24|900
COF-G|Coffee, ground|kg|Drinks|0.7|9.8|3|e|case=6|240
TEA-B|Tea bags|box|Drinks|0.25|3.2|0|e|case=12|500
COC-P|Cocoa powder|kg|Drinks|0.1|7.2|3|l|tin=1|0
CHI-F|Chicken, frozen|kg|Frozen|2.2|5.6|3|e|box=10|180
FIS-F|White fish, frozen|kg|Frozen|1.7|8.2|3|e|box=5|150
PEA-F|Peas, frozen|kg|Frozen|0.9|2.1|3|e|bag=2.5|220
BER-F|Berries, frozen|kg|Frozen|0.4|5.2|3|e|bag=2.5|220
CLO-D|Dish cloth|pack|Cleaning|0.15|2.8|0|q|bale=10|0
DET-5|Dish soap|L|Cleaning|0.5|2.6|3|q|can=5|0
BIN-L|Refuse sack 100 L|each|Cleaning|3|0.17|0|q|roll=25|0
KIT-R|Kitchen roll|roll|Cleaning|1.1|0.85|0|q|pack=8|0`,
  'Boat shed': `OIL-1030|Engine oil 10W-30|L|Oils and fuel|0.5|6.2|3|q|can=5|0
OIL-GEA|Gear oil|L|Oils and fuel|0.1|8.9|3|q|can=1|0
OIL-HYD|Hydraulic oil|L|Oils and fuel|0.15|5.8|3|q|can=20|0
GRE-M|Marine grease|kg|Oils and fuel|0.06|12.4|3|q|tub=0.5|0
FLT-OIL|Oil filter|each|Engine spares|0.12|9.6|0|q|box=6|0
FLT-FUE|Fuel filter|each|Engine spares|0.15|11.2|0|q|box=6|0
FLT-AIR|Air filter|each|Engine spares|0.05|17.5|0|q||0
IMP-W|Water pump impeller|each|Engine spares|0.06|22.4|0|q||0
BLT-V|V-belt|each|Engine spares|0.03|14.8|0|q||0
PLG-S|Spark plug|each|Engine spares|0.2|6.1|0|q|box=10|0
ANO-Z|Zinc anode|each|Hull|0.1|13.5|0|q||0
PAI-A|Antifouling paint|L|Hull|0.08|31|3|e|tin=2.5|700
EPX-R|Epoxy resin|kg|Hull|0.05|24|3|e|can=1|360
SIL-M|Marine sealant|tube|Hull|0.12|8.7|0|e|box=12|400
ROP-12|Rope 12 mm|m|Rope and chain|1.2|1.45|1|q|coil=200|0
ROP-8|Rope 8 mm|m|Rope and chain|1.5|0.8|1|q|coil=200|0
CHA-8|Chain 8 mm|m|Rope and chain|0.2|6.9|1|q|drum=50|0
SHA-D8|D-shackle 8 mm|each|Rope and chain|0.2|4.3|0|q|bag=10|0
CAB-200|Cable tie 200 mm|each|Electrics|4|0.05|0|q|bag=100|0
FUS-10|Blade fuse 10 A|each|Electrics|0.3|0.22|0|q|box=50|0
FUS-20|Blade fuse 20 A|each|Electrics|0.2|0.22|0|q|box=50|0
BUL-12|Bulb 12 V|each|Electrics|0.1|1.6|0|q|box=10|0
BAT-D|D cell|each|Electrics|0.8|1.1|0|e|tray=20|1500
TAP-I|Insulating tape|roll|Electrics|0.12|1.4|0|q|tower=10|0
SCR-M6|Screw M6 × 30, stainless|each|Fixings|3|0.14|0|q|box=200|0
NUT-M6|Nut M6, stainless|each|Fixings|3|0.06|0|q|box=200|0
WAS-M6|Washer M6, stainless|each|Fixings|4|0.03|0|q|box=500|0
SAN-120|Sanding disc 120|each|Fixings|0.7|0.55|0|q|pack=50|0
GLO-W|Work gloves|pair|Protection|0.15|4.6|0|q|pack=12|0
LIF-L|Lifejacket light|each|Safety|0.03|12.9|0|e||1200
FLA-R|Hand flare, red|each|Safety|0.02|14.5|0|e|case=4|1200
GAS-K|Lifejacket gas cylinder|each|Safety|0.02|16.2|0|s||0`,
}
const BY = { q: 'quantity', l: 'lot', e: 'lot_expiry', s: 'serial' } as const
export const ITEMS: readonly DemoItem[] = AREAS.flatMap(area => ROWS[area].split('\n').map((row, i): DemoItem => {
  const [code, name, unit, category, perDay, price, decimals, by, pack, life] = row.split('|') as [string, string, string, string, string, string, string, keyof typeof BY, string, string]
  const [packName, size] = pack.split('=')
  return { code: code!, name: name!, unit: unit!, area, category: category!, perDay: Number(perDay), price: Number(price), decimals: Number(decimals), identifiedBy: BY[by!], pack: packName || null, size: Number(size ?? 1), life: Number(life), supplier: SUPPLIERS[area][i % SUPPLIERS[area].length]! }
}))
