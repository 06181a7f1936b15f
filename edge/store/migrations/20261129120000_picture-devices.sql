-- Which scanner or phone took a picture, as its file says; and how far its known squares lay from their colours, each
-- told by all others: the median ΔE00 when it was received, none where it was not calibrated.
ALTER TABLE picture ADD COLUMN device TEXT;
ALTER TABLE picture ADD COLUMN known_off_de00 REAL CHECK (known_off_de00 >= 0);
