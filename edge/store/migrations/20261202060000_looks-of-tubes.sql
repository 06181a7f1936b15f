-- What a tube looks like to somebody without a meter: colours chosen on a screen, as L* a* b* under D65, 10°. No readings.
ALTER TABLE tube ADD COLUMN chosen_mass_tone TEXT;
ALTER TABLE tube ADD COLUMN chosen_tint TEXT;
