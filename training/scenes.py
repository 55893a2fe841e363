"""Renders made-up things on sweeps, with exact truth: distance fields, marched (Hart, 1996), in an area light.

    /usr/bin/python3 training/scenes.py OUT COUNT SEED

Writes OUT/cases/NAME/{input.png|jpg, truth.png, case.json}, as `npm run quality -- --cases` reads them. Nothing is loaded: every
thing is a union of spheres, boxes, cylinders, rings and rods whose sizes, places and colors come from the seed.
"""

import json
import math
import os
import random
import sys

import torch
from PIL import Image, ImageFilter

torch.set_num_threads(1)
torch.set_grad_enabled(False)

FAR = 30.0
STEPS = 56
SHADOW_STEPS = 22


def length(v):
    return v.pow(2).sum(-1).sqrt()


def sphere(p, size):
    return length(p) - size[0]


def ellipsoid(p, size):
    r = torch.tensor(size)
    near = length(p / r)
    return near * (near - 1) / (length(p / (r * r)) + 1e-6)


def box(p, size):
    q = p.abs() - torch.tensor(size) * 0.9
    return length(q.clamp(min=0)) + q.max(-1).values.clamp(max=0) - 0.1 * min(size)


def cylinder(p, size):
    q = torch.stack([length(p[:, [0, 2]]) - size[0], p[:, 1].abs() - size[1]], -1)
    return length(q.clamp(min=0)) + q.max(-1).values.clamp(max=0)


def ring(p, size):
    q = torch.stack([length(p[:, [0, 1]]) - size[0], p[:, 2]], -1)
    return length(q) - 0.25 * size[0]


def rod(p, size):
    q = p.clone()
    q[:, 1] -= q[:, 1].clamp(-size[1], size[1])
    return length(q) - 0.3 * size[0]


SHAPES = [sphere, ellipsoid, box, cylinder, ring, rod]


class Thing:
    def __init__(self, rnd, backdrop):
        self.parts = []
        scale = rnd.uniform(0.5, 1.0)
        for _ in range(rnd.randint(1, 4)):
            shape = rnd.choice(SHAPES)
            size = [scale * rnd.uniform(0.3, 0.8) for _ in range(3)]
            tall = size[0] * 1.25 if shape is ring else size[1] + (0.3 * size[0] if shape is rod else 0)
            if shape is sphere:
                tall = size[0]
            above = rnd.choice([0, 0, rnd.uniform(0, 0.8)])
            at = [rnd.uniform(-0.7, 0.7), tall + above, rnd.uniform(-0.5, 0.5)]
            turn = rnd.uniform(0, 2 * math.pi)
            self.parts.append((shape, size, at, (math.cos(turn), math.sin(turn)), rnd.uniform(0.0, 0.15)))
        kind = rnd.random()
        if kind < 0.6:  # near the backdrop's color: what is hard
            self.albedo = [min(0.95, max(0.03, c * rnd.uniform(0.85, 1.25) + rnd.uniform(-0.03, 0.03))) for c in backdrop]
        elif kind < 0.8:
            gray = rnd.uniform(0.04, 0.85)
            self.albedo = [gray * rnd.uniform(0.95, 1.05) for _ in range(3)]
        else:
            self.albedo = [rnd.uniform(0.03, 0.9) for _ in range(3)]
        self.band = (rnd.uniform(0.2, 1.2), rnd.uniform(0.05, 0.3), [rnd.uniform(0.03, 0.9) for _ in range(3)]) if rnd.random() < 0.35 else None
        self.gloss = rnd.choice([0, 0, rnd.uniform(0.2, 0.8)])

    def distance(self, p):
        out = None
        for shape, size, at, (c, s), soft in self.parts:
            q = p - torch.tensor(at)
            q = torch.stack([c * q[:, 0] + s * q[:, 2], q[:, 1], c * q[:, 2] - s * q[:, 0]], -1)
            own = shape(q, size)
            if out is None:
                out = own
            else:
                h = (soft - (out - own).abs()).clamp(min=0)
                out = torch.minimum(out, own) - (h * h / (4 * soft + 1e-6) if soft > 0.02 else 0)
        return out

    def color(self, p):
        color = torch.tensor(self.albedo).expand(p.shape[0], 3).clone()
        if self.band:
            at, half, other = self.band
            color[(p[:, 1] - at).abs() < half] = torch.tensor(other)
        return color


class Scene:
    def __init__(self, rnd):
        tint = rnd.random()
        level = rnd.uniform(0.02, 0.2) if rnd.random() < 0.12 else rnd.choice([rnd.uniform(0.75, 0.95), rnd.uniform(0.4, 0.8), 0.9])
        self.backdrop = [level * (rnd.uniform(0.96, 1.0) if tint < 0.6 else rnd.uniform(0.5, 1.0)) for _ in range(3)]
        self.things = []
        for k in range(rnd.choice([1, 1, 2, 3])):
            thing = Thing(rnd, self.backdrop)
            shift = (rnd.uniform(-1.4, 1.4), rnd.uniform(-0.6, 0.8)) if k else (rnd.uniform(-0.3, 0.3), 0)
            thing.parts = [(a, b, [at[0] + shift[0], at[1], at[2] + shift[1]], d, e) for a, b, at, d, e in thing.parts]
            self.things.append(thing)
        self.wall = rnd.uniform(2.5, 5)
        self.round = rnd.uniform(0.8, 2.5)
        azimuth, height = rnd.uniform(0, 2 * math.pi), rnd.uniform(0.5, 1.4)
        light = torch.tensor([math.cos(azimuth), height, -abs(math.sin(azimuth))])
        self.light = light / length(light)
        self.hardness = rnd.choice([rnd.uniform(1.5, 5), rnd.uniform(5, 20), rnd.uniform(20, 80)])
        self.ambient = rnd.uniform(0.35, 0.8)
        self.mirror = rnd.uniform(0.08, 0.4) if rnd.random() < 0.15 else 0

    def ground(self, p):
        floor, wall = p[:, 1], self.wall - p[:, 2]
        h = (self.round - (floor - wall).abs()).clamp(min=0)
        return torch.minimum(floor, wall) - h * h / (4 * self.round)

    def objects(self, p):
        return torch.stack([thing.distance(p) for thing in self.things]).min(0)

    def distance(self, p):
        return torch.minimum(self.ground(p), self.objects(p).values)

    def march(self, origin, direction):
        far = torch.zeros(origin.shape[0])
        live = torch.arange(origin.shape[0])
        for _ in range(STEPS):
            step = self.distance(origin[live] + direction[live] * far[live, None])
            far[live] += step
            live = live[(step > 0.0015 * (1 + far[live] * 0.2)) & (far[live] < FAR)]
            if len(live) == 0:
                break
        return far

    def normal(self, p):
        e = 0.002
        axes = torch.eye(3) * e
        return torch.nn.functional.normalize(
            torch.stack([self.distance(p + axes[k]) - self.distance(p - axes[k]) for k in range(3)], -1), dim=-1
        )

    def lit(self, p, n):
        """The share of the light that reaches places: a penumbra by the nearest miss (Quilez, 2010)."""
        share = torch.ones(p.shape[0])
        far = torch.full((p.shape[0],), 0.03)
        start = p + n * 0.01
        for _ in range(SHADOW_STEPS):
            near = self.objects(start + self.light * far[:, None]).values
            share = torch.minimum(share, (self.hardness * near / far).clamp(0, 1))
            far = far + near.clamp(0.03, 0.35)
        return share * share * (3 - 2 * share)

    def shade(self, origin, direction, deep=True):
        far = self.march(origin, direction)
        p = origin + direction * far[:, None]
        found = self.objects(p)
        is_thing = found.values < self.ground(p)
        n = self.normal(p)
        albedo = torch.tensor(self.backdrop).expand(p.shape[0], 3).clone()
        for k, thing in enumerate(self.things):
            own = is_thing & (found.indices == k)
            albedo[own] = thing.color(p[own])
        sun = (n @ self.light).clamp(min=0) * self.lit(p, n)
        open_sky = torch.ones(p.shape[0])
        for k, reach in enumerate([0.05, 0.15, 0.35]):
            open_sky -= 0.4 / 2**k * (reach - self.distance(p + n * reach)).clamp(min=0) / reach
        ambient = self.ambient * open_sky.clamp(0.15, 1) * (0.7 + 0.3 * n[:, 1])
        sky = (1 - self.ambient) * 1.1
        color = albedo * (ambient + sky * sun)[:, None]
        half = torch.nn.functional.normalize(self.light - direction, dim=-1)
        shine = (n * half).sum(-1).clamp(min=0).pow(40)
        for k, thing in enumerate(self.things):
            own = is_thing & (found.indices == k)
            color[own] += (thing.gloss * shine * sun)[own, None]
        if deep and self.mirror > 0:
            floor = (~is_thing).nonzero()[:, 0]
            bounced = direction[floor] - 2 * (direction[floor] * n[floor]).sum(-1, keepdim=True) * n[floor]
            seen, thing = self.shade(p[floor] + n[floor] * 0.02, bounced, False)
            share = self.mirror * thing.float()[:, None]
            color[floor] = color[floor] * (1 - share) + seen * share
        return color, is_thing


def picture(seed):
    rnd = random.Random(seed)
    torch.manual_seed(seed)
    scene = Scene(rnd)
    w, h, fine = rnd.randint(260, 340), rnd.randint(220, 280), 2
    pitch, back = rnd.uniform(0.15, 0.75), rnd.uniform(4.2, 6.5)
    eye = torch.tensor([rnd.uniform(-0.4, 0.4), 0.6 + back * math.sin(pitch), -back * math.cos(pitch)])
    ahead = torch.nn.functional.normalize(torch.tensor([0.0, 0.55, 0.0]) - eye, dim=0)
    right = torch.nn.functional.normalize(torch.linalg.cross(torch.tensor([0.0, 1.0, 0.0]), ahead), dim=0)
    up = torch.linalg.cross(ahead, right)
    ys, xs = torch.meshgrid(torch.arange(h * fine), torch.arange(w * fine), indexing="ij")
    u = ((xs.flatten() + 0.5) / fine - w / 2) / h
    v = (h / 2 - (ys.flatten() + 0.5) / fine) / h
    zoom = rnd.uniform(0.5, 0.85)
    direction = torch.nn.functional.normalize(zoom * (u[:, None] * right + v[:, None] * up) + ahead, dim=-1)
    color, is_thing = scene.shade(eye.expand_as(direction), direction)
    mean = lambda t, c: t.reshape(h, fine, w, fine, c).mean((1, 3))
    alpha = mean(is_thing.float()[:, None], 1)[..., 0]
    inside = mean(color * is_thing.float()[:, None], 3) / alpha.clamp(min=1e-3)[..., None]
    expose = rnd.uniform(0.9, 1.1) / max(0.2, max(scene.backdrop)) if max(scene.backdrop) > 0.3 else 1.0
    encode = lambda t: torch.where(t <= 0.0031308, 12.92 * t, 1.055 * t.clamp(min=1e-6) ** (1 / 2.4) - 0.055).clamp(0, 1) * 255
    seen = encode(mean(color, 3) * expose)
    own = encode(inside * expose)
    seen += torch.randn_like(seen) * rnd.choice([0.2, rnd.uniform(0.5, 1.5), rnd.uniform(1.5, 3)])
    image = Image.fromarray(seen.round().clamp(0, 255).byte().numpy(), "RGB")
    if rnd.random() < 0.4:
        image = image.filter(ImageFilter.GaussianBlur(rnd.uniform(0.3, 0.9)))
    truth = torch.cat([own.round(), (alpha * 255).round()[..., None]], -1).clamp(0, 255).byte().numpy()
    quality = rnd.randint(60, 97) if rnd.random() < 0.75 else None
    told = f"backdrop {[round(c, 2) for c in scene.backdrop]} hardness {scene.hardness:.0f} mirror {scene.mirror:.2f}"
    return image, Image.fromarray(truth, "RGBA"), quality, told


def main(out, count, seed):
    for k in range(count):
        name = f"scene-{seed}-{k:04d}"
        folder = os.path.join(out, "cases", name)
        if os.path.exists(os.path.join(folder, "case.json")):
            continue
        image, truth, quality, told = picture(seed * 100_003 + k)
        os.makedirs(folder, exist_ok=True)
        file = "input.png" if quality is None else "input.jpg"
        image.save(os.path.join(folder, file), **({} if quality is None else {"quality": quality}))
        truth.save(os.path.join(folder, "truth.png"))
        with open(os.path.join(folder, "case.json"), "w") as f:
            json.dump({"name": name, "category": "scene", "input": file, "truth": "truth.png", "background": told, "hint": {}}, f)


if __name__ == "__main__":
    main(sys.argv[1], int(sys.argv[2]), int(sys.argv[3]))
