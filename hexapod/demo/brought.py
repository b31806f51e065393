"""What somebody brings in from elsewhere, in the pictures: a table full of faults, and the notes of a meeting."""

MOTH_ROOM = """Moth room refit;;;;;
printed 3 Nov;;;;;
;;;;;
No.;What;How long;Begin;After;Owner
1;Empty the room;;;;
1.1;Drawers listed;3 days;2026-10-12;;RO
1.2;Drawers moved;5d;;1.1;MV, Tam Birk
1.3;;2;;;
2;Refit;;;;
2.1;Floor sanded;about a week;;1.2;CT
2.2;Shelves put up;1w;;2.1, 9.9;CT
2.3;Climate tested;36 h elapsed;31/2/2027;2.2 1 d later;
3;Room open;0;;2.3;
"""

MEETING = """Moth room
  - Drawers listed 3d with RO from 12 oct
  - Drawers moved 5d after drawers listed with two CT
  - Fence 20 m
  - Shelves up 1w after drawers moved with CT
Lights
  - Cables laid 2d after drawers moved with ZZ
  - Lamps hung 1d after cables laid, shelves up
  - Lamps tried two days after lamps hung
Room open
  - Guests asked 1d with MV by 20 nov
  - Room opens on 27 nov"""
