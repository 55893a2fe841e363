import sharp from 'sharp';

// Its cache knows files by their names alone: one that was replaced under its name would be read as it was before.
sharp.cache(false);

export { sharp };
