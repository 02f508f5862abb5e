/** The items of Gannet Holm, all invented: code, name, unit, what it is, how much is used a day, price of one, packs. */
export interface DemoItem {
  readonly code: string
  readonly name: string
  readonly unit: string
  readonly area: AreaName
  readonly category: string
  readonly perDay: number
  readonly price: number
  readonly decimals: number
  readonly identifiedBy: 'quantity' | 'lot' | 'lot_expiry' | 'serial'
  readonly pack: string | null
  readonly size: number
  readonly life: number
  readonly supplier: string
}
export type AreaName = 'Wet lab' | 'Sick bay' | 'Galley' | 'Boat shed'
export const AREAS: readonly AreaName[] = ['Wet lab', 'Sick bay', 'Galley', 'Boat shed']
export const SUPPLIERS: Record<AreaName, string[]> = {
  'Wet lab': ['Quillfern', 'Ostrelith'],
  'Sick bay': ['Sandquill', 'Tarnwisp'],
  Galley: ['Fallowmere', 'Skerrow Creamery', 'Holmwort'],
  'Boat shed': ['Tholebeck', 'Bightfern'],
}

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
SEA-F|Sealing film|roll|Glass and plastic|0.05|24.5|0|q||0
CRY-2|Cryo tube 2 ml|each|Glass and plastic|3|0.42|0|q|bag=50|0
PHE-I|Phenol red indicator|ml|Reagents|3|0.11|0|e|bottle=250|500
MET-O|Methyl orange indicator|ml|Reagents|2|0.09|0|e|bottle=250|500
SIL-N|Silver nitrate 0.1 M|ml|Reagents|5|0.19|0|e|bottle=500|360
SUL-A|Sulphuric acid 1 M|L|Reagents|0.06|11.5|3|l|bottle=1|0
ACE-P|Acetone, pure|L|Reagents|0.15|5.4|3|e|can=5|900
ISO-P|Isopropanol 70 %|L|Reagents|0.4|3.1|3|e|can=5|700
EDT-1|EDTA 0.01 M|ml|Reagents|8|0.03|0|e|bottle=1000|400
NAC-R|Sodium chloride, pure|kg|Reagents|0.05|7.2|3|l|jar=1|0
KCL-3|Potassium chloride 3 M|ml|Reagents|4|0.06|0|e|bottle=250|500
BUF-10|Buffer pH 10.01|ml|Reagents|14|0.02|0|e|bottle=500|500
CON-S|Conductivity standard|ml|Reagents|6|0.05|0|e|bottle=500|400
GLY-5|Glycerol|L|Reagents|0.03|9.9|3|l|bottle=1|0
ROS-B|Rose bengal stain|g|Reagents|0.2|1.9|2|l|jar=25|0
NEU-R|Neutral red stain|g|Reagents|0.1|2.4|2|l|jar=10|0
OXY-K|Oxygen test vial|vial|Test kits|1.2|1.55|0|e|kit=25|300
CHL-T|Chlorine test tablet|tablet|Test kits|1.5|0.12|0|e|strip=10|800
HRD-T|Hardness test strip|each|Test kits|0.8|0.34|0|e|tube=50|400
PHS-0|pH strip 0 to 14|each|Test kits|1.6|0.08|0|q|box=100|0
ECO-P|Coliform test plate|plate|Test kits|0.6|3.2|0|e|box=20|240
FLT-12|Filter paper 125 mm|pack|Filters|0.12|9.4|0|l|carton=10|0
FLT-SY|Syringe filter 25 mm|each|Filters|1.1|1.15|0|l|box=50|0
FLT-ME|Plankton mesh 200 µm|each|Filters|0.02|28|0|l||0
CAR-T|Carbon cartridge|each|Filters|0.03|41|0|l||0
APR-L|Lab coat, washable|each|Protection|0.02|19.5|0|q|pack=5|0
GOG-S|Safety goggles|each|Protection|0.03|6.8|0|q|box=10|0
MSK-F|Dust mask|each|Protection|0.5|0.95|0|q|box=20|0
SLV-P|Sleeve cover|pair|Protection|0.4|0.22|0|q|bag=50|0
APR-D|Apron, throw-away|each|Protection|0.6|0.18|0|q|roll=100|0
AGR-S|Agar powder|g|Media|6|0.14|1|e|jar=500|700
BRO-N|Nutrient broth|g|Media|4|0.11|1|e|jar=500|700
PEP-W|Peptone water vial|vial|Media|1.3|0.74|0|e|tray=20|200
SEA-S|Artificial sea salt|kg|Media|0.2|4.6|3|l|pail=10|0
TUB-15|Centrifuge tube 15 ml|each|Glass and plastic|4|0.21|0|q|bag=50|0
BEA-250|Beaker 250 ml|each|Glass and plastic|0.04|3.9|0|q|box=6|0
FLA-500|Flask 500 ml|each|Glass and plastic|0.03|6.2|0|q|box=4|0
CYL-100|Measuring cylinder 100 ml|each|Glass and plastic|0.02|7.4|0|q||0
SLI-M|Microscope slide|each|Glass and plastic|5|0.07|0|q|box=50|0
COV-S|Cover slip|each|Glass and plastic|6|0.03|0|q|box=200|0
PIP-T|Transfer pipette 3 ml|each|Glass and plastic|4|0.06|0|q|box=500|0
BAG-S|Sample bag, sterile|each|Glass and plastic|3|0.19|0|q|box=100|0
JAR-1|Specimen jar 1 L|each|Glass and plastic|0.5|1.6|0|q|tray=24|0
TRA-W|Weighing boat|each|Glass and plastic|2|0.05|0|q|bag=250|0
STO-R|Rubber stopper|each|Glass and plastic|0.1|0.6|0|q|bag=20|0
TUB-S|Silicone tubing 6 mm|m|Glass and plastic|0.1|2.8|1|q|coil=10|0
ELE-P|pH electrode|each|Instruments|0.01|118|0|s||0
THM-D|Thermometer, digital|each|Instruments|0.01|34|0|s||0
BAT-9|Battery 9 V|each|Instruments|0.08|2.9|0|q|pack=4|0
LAM-M|Microscope lamp|each|Instruments|0.01|14.5|0|q||0
LBL-W|Label, water-proof|sheet|Paper|0.6|0.85|0|q|pack=25|0
NOT-F|Field notebook|each|Paper|0.08|5.4|0|q|pack=10|0
MRK-P|Marker, permanent|each|Paper|0.12|1.3|0|q|box=10|0
PAP-T|Tissue paper|pack|Paper|0.4|1.1|0|q|bale=24|0
TAP-A|Autoclave tape|roll|Paper|0.06|4.8|0|q|box=6|0
BAG-A|Autoclave bag|each|Paper|0.8|0.31|0|q|box=100|0`,
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
BIN-S|Sharps box 1 L|each|Hygiene|0.04|2.4|0|q|case=20|0
STR-W|Wound closure strip|pack|Dressings|0.25|1.4|0|e|box=25|1100
BUR-G|Burn gel sachet|each|Dressings|0.15|1.1|0|e|box=20|900
BUR-D|Burn dressing|each|Dressings|0.08|4.6|0|e|box=10|900
TAP-M|Medical tape 2.5 cm|roll|Dressings|0.2|0.9|0|q|box=12|0
EYE-P|Eye pad, sterile|each|Dressings|0.12|0.35|0|e|box=25|1200
TRI-B|Triangular bandage|each|Dressings|0.1|0.8|0|q|box=10|0
BAN-12|Elastic bandage 12 cm|each|Dressings|0.2|1.7|0|q|box=10|0
COT-W|Cotton wool|pack|Dressings|0.1|1.9|0|q|bale=20|0
TOU-Q|Tourniquet|each|Dressings|0.01|14.5|0|q||0
BLI-P|Blister plaster|each|Dressings|0.6|0.45|0|e|box=50|900
WAT-I|Water for injection 10 ml|each|Fluids|0.4|0.42|0|e|box=20|700
RIN-500|Balanced fluid bag 500 ml|each|Fluids|0.04|3.1|0|e|case=12|500
GLU-G|Glucose gel|tube|Fluids|0.1|2.2|0|e|box=6|600
ORS-S|Rehydration sachet|each|Fluids|0.7|0.28|0|e|box=20|800
NOS-S|Saline nose drops|each|Fluids|0.15|0.5|0|e|box=20|600
PRG-T|Pregnancy test|each|Tests|0.03|1.2|0|e|box=10|500
INF-T|Respiratory virus test|each|Tests|0.8|1.9|0|e|box=20|360
LAN-C|Lancet|each|Tests|2|0.05|0|q|box=200|0
SPE-C|Specimen cup|each|Tests|0.3|0.16|0|q|bag=50|0
SWA-B|Swab, sterile|each|Tests|0.6|0.22|0|e|box=100|900
ASP-75|Acetylsalicylic acid 75 mg|tablet|Medicines|1|0.02|0|e|pack=100|800
LOP-2|Loperamide 2 mg|tablet|Medicines|0.6|0.12|0|e|pack=20|900
ANT-A|Antacid tablet|tablet|Medicines|1.6|0.06|0|e|pack=50|800
AMX-500|Amoxicillin 500 mg|capsule|Medicines|0.9|0.11|0|e|pack=20|600
DOX-100|Doxycycline 100 mg|capsule|Medicines|0.4|0.16|0|e|pack=10|700
HYD-C|Hydrocortisone cream 1 %|tube|Medicines|0.08|2.6|0|e|box=10|700
ANT-C|Antiseptic cream|tube|Medicines|0.15|2.1|0|e|box=12|800
EAR-D|Ear drops|bottle|Medicines|0.04|3.4|0|e||400
EYE-D|Eye drops|bottle|Medicines|0.06|3.1|0|e||300
LOZ-T|Throat lozenge|each|Medicines|3|0.07|0|e|box=40|700
COU-S|Cough syrup|bottle|Medicines|0.08|3.6|0|e|case=12|600
SUN-50|Sun cream factor 50|bottle|Hygiene|0.25|5.8|0|e|case=12|700
INS-R|Insect repellent|bottle|Hygiene|0.15|4.4|0|e|case=12|900
SOA-L|Liquid soap|L|Hygiene|0.2|2.2|3|q|can=5|0
WIP-A|Alcohol wipe|each|Hygiene|4|0.03|0|q|box=200|0
GLV-N|Examination gloves, medium|box|Hygiene|0.3|6.9|0|q|case=10|0
GLV-X|Examination gloves, large|box|Hygiene|0.2|6.9|0|q|case=10|0
SUR-C|Surface cleaner|L|Hygiene|0.25|3.3|3|e|can=5|700
BAG-C|Clinical waste bag|each|Hygiene|0.3|0.24|0|q|roll=50|0
CAT-20|Cannula 20 G|each|Instruments|0.05|1.1|0|l|box=50|0
SUT-3|Suture set|each|Instruments|0.03|6.2|0|e|box=12|1100
SYR-10|Syringe 10 ml|each|Instruments|0.3|0.19|0|l|box=100|0
SCA-P|Scalpel, throw-away|each|Instruments|0.06|0.8|0|l|box=10|0
THM-S|Thermometer, clinical|each|Instruments|0.01|8.5|0|q||0
MSK-O|Oxygen mask|each|Instruments|0.02|3.9|0|q|box=10|0`,
  Galley: `FLO-W|Wheat flour|kg|Larder|3.2|0.78|3|l|sack=25|0
FLO-R|Rye flour|kg|Larder|1.1|0.95|3|l|sack=10|0
OAT-R|Oats, rolled|kg|Larder|1.4|1.2|3|e|sack=5|200
RIC-B|Basmati rice|kg|Larder|1.3|1.85|3|l|sack=10|0
PAS-P|Penne|kg|Larder|1.6|1.3|3|l|case=6|0
SUG-W|Sugar|kg|Larder|0.9|0.98|3|q|sack=10|0
SAL-S|Sea salt|kg|Larder|0.12|1.1|3|q|box=1|0
YEA-D|Yeast, dried|pack|Larder|0.5|2.2|0|e|box=20|300
OIL-R|Rapeseed oil|L|Oils|0.7|2.1|3|l|can=10|0
OIL-W|Walnut oil|L|Oils|0.35|7.4|3|l|can=5|0
BUT-S|Butter, salted|kg|Milk and cheese|1.1|6.9|3|e|case=10|55
MIL-W|Milk|L|Milk and cheese|6.5|0.92|3|e|crate=12|12
CRE-35|Cream 35 %|L|Milk and cheese|0.8|3.6|3|e|carton=6|16
CHE-H|Hard cheese|kg|Milk and cheese|0.6|9.4|3|e|wheel=5|80
YOG-P|Yoghurt, plain|kg|Milk and cheese|1.2|2.3|3|e|pail=5|22
EGG-M|Eggs|each|Milk and cheese|22|0.24|0|e|tray=30|24
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
KIT-R|Kitchen roll|roll|Cleaning|1.1|0.85|0|q|pack=8|0
FLO-B|Bread flour|kg|Larder|2.1|0.92|3|l|sack=25|0
LEN-R|Red lentils|kg|Larder|0.5|2.1|3|l|sack=5|0
CHI-P|Chickpeas, dried|kg|Larder|0.3|2.4|3|l|sack=5|0
BEA-D|White beans, dried|kg|Larder|0.3|2.2|3|l|sack=5|0
SPA-G|Spaghetti|kg|Larder|1|1.25|3|l|case=6|0
COU-M|Couscous|kg|Larder|0.35|2.3|3|l|sack=5|0
SUG-B|Brown sugar|kg|Larder|0.2|1.6|3|q|case=10|0
HON-L|Honey|kg|Larder|0.25|6.8|3|l|pail=5|0
JAM-S|Strawberry jam|kg|Larder|0.4|4.2|3|e|pail=3|400
PEA-B|Peanut butter|kg|Larder|0.25|5.1|3|e|pail=3|300
BIS-O|Oat biscuits|pack|Larder|1.4|1.1|0|e|case=24|180
CRA-W|Water biscuits|pack|Larder|0.9|0.95|0|e|case=24|200
RAI-S|Raisins|kg|Larder|0.3|3.4|3|e|box=5|300
NUT-M|Mixed nuts|kg|Larder|0.3|9.6|3|e|box=5|240
CHO-D|Dark chocolate|kg|Larder|0.25|8.4|3|e|box=2.5|360
PEP-B|Black pepper|kg|Larder|0.02|14|3|l|tin=0.5|0
PAP-S|Paprika|kg|Larder|0.02|11|3|l|tin=0.5|0
CUM-G|Cumin, ground|kg|Larder|0.015|12|3|l|tin=0.5|0
BAY-L|Bay leaf|pack|Larder|0.05|1.4|0|q|box=12|0
STK-V|Vegetable stock|kg|Larder|0.1|7.2|3|e|tub=1|500
STK-C|Chicken stock|kg|Larder|0.08|7.8|3|e|tub=1|500
BAK-P|Baking powder|kg|Larder|0.04|5.2|3|e|tin=1|360
VAN-S|Vanilla sugar|pack|Larder|0.15|0.6|0|q|box=24|0
COR-S|Corn starch|kg|Larder|0.08|2.4|3|l|box=2.5|0
VIN-W|White wine vinegar|L|Oils|0.12|2.6|3|l|case=6|0
OIL-S|Sunflower oil|L|Oils|0.6|1.9|3|l|can=10|0
SOY-S|Soy sauce|L|Oils|0.08|4.4|3|l|case=6|0
MUS-D|Mustard|kg|Oils|0.09|4.1|3|e|pail=1|300
KET-T|Tomato ketchup|kg|Oils|0.2|2.9|3|e|pail=5|300
MAY-O|Mayonnaise|kg|Oils|0.2|3.6|3|e|pail=5|150
CHE-C|Cream cheese|kg|Milk and cheese|0.3|5.6|3|e|box=2|30
CHE-G|Grated cheese|kg|Milk and cheese|0.4|7.8|3|e|bag=2|40
MIL-L|Milk, long life|L|Milk and cheese|1.5|0.98|3|e|case=12|150
BUT-U|Butter, unsalted|kg|Milk and cheese|0.4|7.1|3|e|case=10|55
POT-S|Sweet potatoes|kg|Vegetables|0.7|1.7|3|q|box=10|0
LEE-K|Leeks|kg|Vegetables|0.6|1.9|3|q|crate=8|0
GAR-L|Garlic|kg|Vegetables|0.08|6.2|3|q|net=1|0
BEE-T|Beetroot|kg|Vegetables|0.4|1.1|3|q|sack=10|0
TUR-N|Turnips|kg|Vegetables|0.5|1|3|q|sack=10|0
SAL-I|Iceberg lettuce|each|Vegetables|1.3|1.1|0|q|crate=10|0
TOM-F|Tomatoes|kg|Vegetables|1|2.6|3|q|crate=6|0
CUC-U|Cucumber|each|Vegetables|1.2|0.8|0|q|crate=12|0
PEP-R|Peppers|kg|Vegetables|0.6|3.1|3|q|crate=5|0
BAN-A|Bananas|kg|Vegetables|1.4|1.4|3|q|crate=18|0
ORA-N|Oranges|kg|Vegetables|1.2|1.5|3|q|crate=10|0
COR-T|Tinned sweetcorn|tin|Tins|0.9|0.82|0|e|case=24|800
PEA-T|Tinned peaches|tin|Tins|0.6|1.15|0|e|case=24|800
COC-M|Coconut milk|tin|Tins|0.5|1.3|0|e|case=24|600
GHE-S|Gherkins|tin|Tins|0.2|2.4|0|e|case=12|600
KID-B|Kidney beans, tinned|tin|Tins|0.8|0.7|0|e|case=24|800
JUI-O|Orange juice|L|Drinks|1.6|1.7|3|e|case=12|200
JUI-A|Apple juice|L|Drinks|1.2|1.5|3|e|case=12|240
TEA-H|Herbal tea|box|Drinks|0.15|2.9|0|e|case=12|500
BEE-F|Minced beef, frozen|kg|Frozen|1.3|7.2|3|e|box=10|180
POR-F|Pork shoulder, frozen|kg|Frozen|0.8|6.1|3|e|box=10|180
PRA-F|Prawns, frozen|kg|Frozen|0.3|12.4|3|e|box=5|150
SPI-F|Spinach, frozen|kg|Frozen|0.5|2.3|3|e|bag=2.5|240
BRE-F|Bread rolls, frozen|each|Frozen|14|0.19|0|e|box=80|120
DET-M|Machine detergent|kg|Cleaning|0.2|4.4|3|q|pail=10|0
SPO-N|Scouring sponge|each|Cleaning|0.8|0.22|0|q|bag=20|0
FOI-L|Aluminium foil|roll|Cleaning|0.1|6.8|0|q|box=6|0
BAK-R|Baking paper|roll|Cleaning|0.12|5.9|0|q|box=6|0
FIL-C|Coffee filter|each|Cleaning|3|0.03|0|q|pack=100|0`,
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
GAS-K|Lifejacket gas cylinder|each|Safety|0.02|16.2|0|s||0
OIL-2T|Two-stroke oil|L|Oils and fuel|0.2|7.9|3|q|can=1|0
COO-L|Coolant|L|Oils and fuel|0.1|5.2|3|q|can=5|0
DEG-R|Degreaser|L|Oils and fuel|0.12|6.4|3|q|can=5|0
PEN-O|Penetrating oil|tin|Oils and fuel|0.08|6.1|0|q|box=12|0
FLT-GEN|Generator air filter|each|Engine spares|0.04|21|0|q||0
FLT-HYD|Hydraulic filter|each|Engine spares|0.03|27.5|0|q||0
BLT-T|Timing belt|each|Engine spares|0.01|48|0|q||0
THE-M|Thermostat|each|Engine spares|0.01|19|0|q||0
GAS-H|Head gasket set|each|Engine spares|0.005|86|0|q||0
HOS-F|Fuel hose 8 mm|m|Engine spares|0.15|4.2|1|q|coil=20|0
CLA-H|Hose clamp|each|Engine spares|0.4|0.75|0|q|box=50|0
INJ-N|Injector nozzle|each|Engine spares|0.01|64|0|s||0
STA-M|Starter motor|each|Engine spares|0.003|310|0|s||0
GLO-P|Glow plug|each|Engine spares|0.03|12.8|0|q|box=4|0
PAI-P|Primer, two-part|L|Hull|0.05|24|3|e|tin=2.5|600
THI-N|Thinner|L|Hull|0.08|6.6|3|q|can=5|0
BRU-50|Paint brush 50 mm|each|Hull|0.15|2.4|0|q|box=12|0
ROL-L|Paint roller|each|Hull|0.1|1.9|0|q|box=10|0
FIL-R|Hull filler|kg|Hull|0.04|17|3|e|tin=1|500
ZIN-S|Shaft anode|each|Hull|0.02|24|0|q||0
TAP-D|Deck tape|roll|Hull|0.05|11.5|0|q||0
ROP-16|Rope 16 mm|m|Rope and chain|0.6|2.4|1|q|coil=100|0
ROP-4|Cord 4 mm|m|Rope and chain|1.1|0.3|1|q|coil=200|0
SHA-D10|D-shackle 10 mm|each|Rope and chain|0.12|6.1|0|q|bag=10|0
SHA-B8|Bow shackle 8 mm|each|Rope and chain|0.1|5.4|0|q|bag=10|0
THI-12|Thimble 12 mm|each|Rope and chain|0.08|1.9|0|q|bag=20|0
BUO-S|Mooring buoy|each|Rope and chain|0.02|38|0|q||0
SWI-V|Swivel|each|Rope and chain|0.03|14|0|q||0
CAB-370|Cable tie 370 mm|each|Electrics|2|0.11|0|q|bag=100|0
WIR-25|Wire 2.5 mm², red|m|Electrics|0.4|0.85|1|q|reel=100|0
WIR-B|Wire 2.5 mm², black|m|Electrics|0.4|0.85|1|q|reel=100|0
TER-R|Ring terminal|each|Electrics|0.8|0.18|0|q|box=100|0
SHR-T|Heat-shrink tube|m|Electrics|0.2|1.2|1|q|coil=10|0
SWI-T|Toggle switch|each|Electrics|0.03|7.2|0|q||0
LED-N|Navigation lamp bulb|each|Electrics|0.04|8.8|0|q||0
BAT-12|Battery 12 V|each|Electrics|0.008|124|0|s||0
BAT-A|AA cell|each|Electrics|1.5|0.55|0|e|tray=40|1500
SCR-W|Wood screw 5 × 60|each|Fixings|3|0.09|0|q|box=200|0
BOL-M8|Bolt M8 × 40, stainless|each|Fixings|1.2|0.32|0|q|box=100|0
NUT-M8|Nut M8, stainless|each|Fixings|1.2|0.11|0|q|box=200|0
WAS-M8|Washer M8, stainless|each|Fixings|1.5|0.06|0|q|box=250|0
SPL-P|Split pin|each|Fixings|0.8|0.08|0|q|box=200|0
SAN-240|Sanding sheet 240|each|Fixings|0.6|0.42|0|q|pack=50|0
RIV-4|Rivet 4 mm|each|Fixings|1|0.07|0|q|box=500|0
GLO-R|Rubber gloves|pair|Protection|0.2|2.3|0|q|pack=12|0
EAR-P|Ear plugs|pair|Protection|0.6|0.12|0|q|box=200|0
GOG-B|Workshop goggles|each|Protection|0.03|5.4|0|q|box=10|0
OVE-L|Overall, large|each|Protection|0.02|31|0|q||0
LIF-W|Life ring light|each|Safety|0.01|22|0|e||1200
FLA-S|Smoke signal|each|Safety|0.01|36|0|e|case=2|1200
EXT-R|Extinguisher 2 kg|each|Safety|0.005|44|0|s||0
WHI-S|Whistle|each|Safety|0.02|1.6|0|q|bag=10|0`,
}
const BY = { q: 'quantity', l: 'lot', e: 'lot_expiry', s: 'serial' } as const
export const ITEMS: readonly DemoItem[] = AREAS.flatMap(area =>
  ROWS[area].split('\n').map((row, i): DemoItem => {
    const [code, name, unit, category, perDay, price, decimals, by, pack, life] = row.split('|') as [
      string,
      string,
      string,
      string,
      string,
      string,
      string,
      keyof typeof BY,
      string,
      string,
    ]
    const [packName, size] = pack.split('=')
    return {
      code: code!,
      name: name!,
      unit: unit!,
      area,
      category: category!,
      perDay: Number(perDay),
      price: Number(price),
      decimals: Number(decimals),
      identifiedBy: BY[by!],
      pack: packName || null,
      size: Number(size ?? 1),
      life: Number(life),
      supplier: SUPPLIERS[area][i % SUPPLIERS[area].length]!,
    }
  }),
)
