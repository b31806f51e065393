"""What is typed into the demo: people, and three outlines as ``name | duration | waits for | who``.

Indentation is the level. The texts are read by the same code that reads what a person types in a cell.
"""

ROLES = """
Case work | RCW
Conservation | RCO
Design and text | RDT
Media | RME
Registration | RRE
Building services | RBS
Moving | RMO
Glass and garden | RGG
"""

# Name, initials, kind, capacity, role, skills with their level, section, other roles that they can act in.
PEOPLE = """
Case technicians | CT | team | 3 | RCW | case fitting 4, glazing | Exhibitions
Case fitter Ansel Fennimore | AF | person | 1 | RCW | case fitting 5, glazing 2 | Exhibitions
Case fitter Bryn Tolliver | BT | person | 0.5 | RCW | case fitting | Exhibitions
Joiner Corin Vasper | CV | person | 1 | RCW | joinery 5, case fitting 2 | Exhibitions
Conservator Rosa Okonjo | RO | person | 1 | RCO | pinned insects 5, amber 4 | Collections
Conservator Milan Adeyo | MA | person | 1 | RCO | skins 4, pest traps 5 | Collections
Conservator Edda Quillon | EQ | person | 1 | RCO | pinned insects 3, textiles | Collections | RRE
Conservator Tove Marchbank | TM | person | 0.6 | RCO | fluid jars 5, skins | Collections
Conservation trainee Odo Pell | OP | person | 1 | RCO | pinned insects 1, skins 1 | Collections | RRE
Mount maker Wen Halloran | MW | person | 1 | RCW | mounts 5, joinery 2 | Exhibitions
Mount maker Sela Brand | SB | person | 0.5 | RCW | mounts | Exhibitions
Designer Dara Kestrel | DK | person | 1 | RDT | layout 5, graphics 4 | Exhibitions
Designer Ivo Lanthorn | IL | person | 1 | RDT | graphics 5 | Exhibitions
Writer Hale Birkby | HB | person | 1 | RDT | labels 5 | Exhibitions
Writer Una Sorrel | US | person | 0.5 | RDT | labels, signing 4 | Exhibitions
Media producer Yun Demirok | YD | person | 1 | RME | film 5, sound 3 | Exhibitions
Media producer Pax Ordway | PO | person | 1 | RME | sound 5, interactives 4 | Exhibitions | RDT
Programmer Lio Cathcart | LC | person | 1 | RME | interactives 5 | Exhibitions
Registrar Ines Tamsin | IT | person | 1 | RRE | inventory 5, location scans 4 | Collections
Registrar Faro Whitlock | FW | person | 1 | RRE | inventory, location scans | Collections
Registrar's assistant Gwen Idle | GI | person | 1 | RRE | location scans 2 | Collections
Project manager Joss Ferro | JF | person | 1 | RDT | planning 5 | Exhibitions
Project manager Nell Harrow | NH | person | 1 | RDT | planning 4 | Exhibitions
Movers | MV | team | 6 | RMO | packing, carrying 4 | Estate
Driver Rook Asher | RA | person | 1 | RMO | driving 5, carrying | Estate
Driver Tamsy Coil | TC | person | 1 | RMO | driving 4 | Estate
Glaziers | GZ | team | 4 | RGG | glazing 5, roof work 4 | Estate
Glazier Wick Garland | WG | person | 1 | RGG | glazing 4 | Estate | RCW
Electrician Pia Larkwood | PL | person | 1 | RBS | lighting 5, climate plant 3 | Estate
Electrician Oren Bask | OB | person | 1 | RBS | lighting 3 | Estate
Climate engineer Sabe Thorne | ST | person | 1 | RBS | climate plant 5 | Estate
Caretaker Moll Everley | ME | person | 1 | RBS | alarms 3 | Estate | RMO
Gardeners | GD | team | 3 | RGG | planting 4 | Estate
Gardener Fenn Yarrow | FY | person | 0.5 | RGG | planting | Estate
Scissor lift | SL | equipment | 1
Freezing chamber | FC | equipment | 1
Workshop bay | WB | place | 2
"""

GALLERY = """
Survey and design
    Specimen condition survey | 8d | | RO
    Gallery brief agreed | 3d | 1.1 | JF DK
    Layout and case drawings | 9d | 1.2 | DK
    Interactive storyboard | 6d | 1.2 | YD
    Label text drafted | 10d | 1.2 | HB
    Visitor path tested with a school | 2d | 1.3 | JF
    Design signed off | 0 | 1.3, 1.4, 1.6 |
Specimens
    Freeze treatment, batch A | 6d | 1.1 | FC
    Freeze treatment, batch B | 6d | 2.1 | FC
    Freeze treatment, batch C | 6d | 2.2 | FC
    Pinned drawers cleaned | 8d | 2.1 | RO
    Amber pieces conserved | 7d | 2.4 | RO
    Leafcutter colony moved in | 3d | 2.8, 3.7 | RO
    Mounts made | 15d | 2.2, 2.4 | MW WB
    Colony tank bought | 20d | 1.7 |
    Labels and captions printed | 7d | 1.5, 2.7 SS 2 d later | HB 50%
    Specimens photographed | 6d | 2.5 |
    Specimens ready | 0 | 2.3, 2.5, 2.7, 2.9, 2.10 |
Gallery build
    Strip out and make good | 6d | 1.3 SS 2 d later | CT ×2
    Floor and lighting tracks | 9d | 3.1 | CT, PL
    Case frames erected | 10d | 3.2, 1.7 | CT ×3, SL
    Screens and sound wired | 5d | 1.4, 3.2 | CT, PL
    Glazing and seals | 5d | 3.3 | CT ×2
    Case lighting and climate | 6d | 3.5 | PL
    Water and drain for the colony | 4d | 3.2, 2.8 | CT
    Graphics fixed | 5d | 3.5, 2.9 | CT
    Gallery ready for specimens | 0 | 3.4, 3.6, 3.8 |
Media
    Sound recordings edited | 8d | 1.4 | YD
    Films cut | 12d | 4.1 | YD
    Interactives programmed | 15d | 1.4 5 d later | RME
    Interactives tested | 4d | 4.3, 3.4 | YD
    Captions and signing added | 5d | 4.2 |
    Media complete | 0 | 4.4, 4.5 |
Installation
    Large specimens installed | 5d | 3.9, 2.11 | CT ×2, SL
    Drawers and small cases filled | 8d | 5.1 SS 2 d later | RO MA
    Lighting focused | 3d | 5.2 | PL
    Climate run in | 10d | 3.9 |
    Conservation check | 3d | 5.2, 5.4 | RO
    Installation complete | 0 | 5.3, 5.5, 4.6 |
Opening
    Guides trained | 4d | 5.6 | JF
    Trial days with members | 3d | 6.1 | JF
    Snags put right | 5d | 6.2 | CT ×2
    Gallery opens | 0 | 6.3 |
"""

STORE_MOVE = """
Preparing
    Inventory checked | 12d | | IT
    Move method agreed | 4d | 1.1 SS 8 d later | JF 50%
    Crates and trays bought | 23d | 1.2 |
    Old store mapped | 5d | 1.1 | IT
    Pest traps set and read | 15d | 1.2 | MA 50%
    Ready to pack | 0 | 1.3, 1.4 |
New store
    Floor sealed | 4d | | MV
    Racks delivered and fixed | 10d | 2.1 18 d later | SL
    Shelf labels printed | 3d | 2.2 SS 2 d later | IT
    Climate plant commissioned | 6d | 2.2 |
    Fire and alarm test | 2d | 2.4 |
    New store accepted | 0 | 2.3, 2.5 |
Packing
    Shells packed | 8d | 1.6 | MV ×2
    Birds and mammals packed | 12d | 3.1 | MV ×2, MA 50%
    Insect drawers packed | 10d | 1.6 3 d later | MV ×2
    Fluid jars packed | 6d | 3.3 | MV ×2
    Herbarium sheets packed | 7d | 3.4 | MV ×2
    Type specimens packed | 4d | 3.2, 3.4 | IT
    All packed | 0 | 3.2, 3.5, 3.6 |
Moving
    Shells moved | 4d | 3.1, 2.6 | MV ×2
    Birds and mammals moved | 6d | 3.2, 4.1 | MV ×4
    Insect drawers moved | 5d | 3.3, 4.2 | MV ×4
    Fluid jars moved | 4d | 3.4, 4.3 | MV ×4
    Herbarium moved | 4d | 3.5, 4.4 | MV ×4
    Type specimens moved | 2d | 3.6, 4.5 | MV ×2
    Locations scanned in | 12d | 4.2 SS 3 d later, 4.6 FF 2 d later | IT
    Collection in the new store | 0 | 4.6, 4.7 |
Closing
    Old store cleared | 6d | 4.8 | MV ×2
    Catalogue brought up to date | 8d | 4.8 | RRE 50%, IT
    Old store handed back | 0 | 5.1, 5.2 |
"""

ROOF = """
Enabling
    Roof survey | 5d | | GZ ×2
    Glass chosen and ordered | 4d | 1.1 | JF 50%
    Glass made and delivered | 35d | 1.2 |
    Plants moved to the nursery | 8d | 1.1 | GD
    Scaffold put up | 7d | 1.4 | GZ ×2
    Ready to strip | 0 | 1.5 |
Old roof
    North bay stripped | 6d | 1.6 | GZ ×2
    South bay stripped | 6d | 2.1 | GZ ×2
    Dome stripped | 5d | 2.2 | GZ ×2
    Ribs cleaned and checked | 8d | 2.1 | GZ ×2
    Ribs painted | 9d | 2.4, 2.3 | GZ ×2
New roof
    North bay glazed | 8d | 1.3, 2.5 SS 4 d later | GZ ×2
    South bay glazed | 8d | 3.1 | GZ ×2
    Dome glazed | 10d | 3.2, 2.5 | GZ ×2
    Vents and motors fitted | 6d | 3.1 | GZ ×2
    Gutters renewed | 7d | 3.2 | GZ ×2
    Watertight | 0 | 3.3, 3.5 |
Inside
    Scaffold taken down | 5d | 3.6, 3.4 | GZ ×2
    Watering and shade system | 9d | 4.1 | GD
    Lights renewed | 5d | 4.1 | PL
    Beds made up | 6d | 4.2 | GD ×2
    Plants brought back | 7d | 4.4 | GD ×3
    Paths cleaned | 3d | 4.3, 4.5 | GD
    Glasshouse opens | 0 | 4.6 |
"""

# Who, project (by its number), share, from, to: promised before tasks say for what. A role is an open seat.
RESERVED = """
JF | 1 | 60 % | |
JF | 2 | 50 % | |
JF | 3 | 30 % | |
LC | 1 | 50 % | 2026-10-05 | 2026-11-30
IT | 2 | 100 % | 2027-02-01 | 2027-04-30
FW | 2 | 100 % | 2027-03-01 | 2027-04-30
GI | 1 | 100 % | 2027-03-01 | 2027-03-31
RRE | 2 | 200 % | 2027-03-01 | 2027-03-31
RRE | 3 | 100 % | 2027-03-01 | 2027-03-31
"""

# Initials, first and last day away.
LEAVE = """
HB | 2026-10-12 | 2026-10-16
SB | 2026-12-07 | 2026-12-18
"""

# Project (by its number) and row, when it began, and when it ended or how much is left; as of Friday 9 October.
TOLD_UP_TO = "2026-10-09"
TOLD = """
1 | 1.1 | 2026-09-07 | 2026-09-16
1 | 1.2 | 2026-09-17 | 2026-09-21
1 | 1.3 | 2026-09-22 | 2026-10-05
1 | 1.4 | 2026-09-22 | 2026-09-29
1 | 1.5 | 2026-09-22 | 2d left
1 | 1.6 | 2026-10-06 | 2026-10-07
1 | 1.7 | 2026-10-07 | 2026-10-07
1 | 2.1 | 2026-09-17 | 2026-09-24
1 | 2.2 | 2026-09-25 | 2026-10-02
1 | 2.3 | 2026-10-05 | 1d left
1 | 2.4 | 2026-09-28 | 3d left
1 | 2.8 | 2026-10-08 | 18d left
1 | 3.1 | 2026-09-24 | 2026-10-01
1 | 3.2 | 2026-10-02 | 5d left
1 | 4.1 | 2026-09-30 | 1d left
2 | 1.1 | 2026-09-14 | 2026-09-29
2 | 1.2 | 2026-09-24 | 2026-09-29
2 | 1.3 | 2026-09-30 | 16d left
2 | 1.4 | 2026-09-30 | 2026-10-07
2 | 1.5 | 2026-10-01 | 8d left
2 | 2.1 | 2026-09-14 | 2026-09-17
3 | 1.1 | 2026-09-21 | 2026-09-25
3 | 1.2 | 2026-09-28 | 2026-10-01
3 | 1.3 | 2026-10-02 | 29d left
3 | 1.4 | 2026-09-28 | 2026-10-08
3 | 1.5 | 2026-10-09 | 6d left
"""
# Rows of the gallery that are cards, by number; and how many cards should be in hand at once.
CARDS = ("1", "4", "2.9")
IN_HAND_AT_MOST = 3

# Who, an errand, when it is due, when it was done.
ERRANDS = """
JF | Ask the school for a second date | 2026-10-13 |
JF | Send the case drawings to the fire office | 2026-10-09 |
JF | Book the lecture room for the guides | 2026-10-23 |
JF | Thank the lenders of the amber | | 2026-10-08
RO | Order freezer bags | 2026-10-14 |
RO | Return the microscope to the schoolroom | |
"""

# Who hears of a row of the gallery beside those who work on it, and how many days before its finish she is reminded.
TOLD_TOO = """
JF | 1.7 | 0
JF | 4.6 | 5
JF | 6.4 | 10
HB | 2.9 | 2
"""

# What came back on forms: who, row of the gallery, done on, left, hours, note.
FORMS = """
HB | 1.5 | | 1d | 6 | Batch C is with the curator
PL | 3.2 | | 4d | 16 | One rail is bent, a new one comes on Tuesday
PL | 3.4 | | | | The screens came with the wrong plugs
"""

WHY_LATE = ("1", "2.4", "Moth webbing in six drawers: they were frozen again before they were cleaned.")
