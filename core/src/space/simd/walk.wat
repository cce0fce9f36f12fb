;; The walk of a ray through the boxes around the shapes of a world, nearest first, until the ball around a shape is met that matters
;; to the query. It spares work and decides nothing: what it passes by cannot be met, what it returns is tested by the core itself.
;; Boxes are tested four at a time in single floats, with room for all rounding; balls in doubles, as `RayWinner` tests them.
;;
;; A node is 128 bytes: min x, min y, min z, max x, max y, max z of four children, four single floats each; then for each child, if it
;; is a node, its address and 0, and if it is a leaf, its first item and how many it has. `npm run walk` makes `code.ts` of this file.
(module
  (memory (export "memory") 1)

  ;; Below 8192: the stack, 16 bytes an entry: what stands in a node of a child (2 words), the distance at which its box is entered.
  ;; From 8192: of the ray, each four times, for x, y, z: 1 / direction; the start for near sides of boxes; the start for far sides.
  ;; From 8336: the distances at which four boxes are entered.
  ;; From 8352, written by others, in doubles: the start of the ray, relative to the tree's origin; its unit direction; the greatest
  ;; distance still of interest. From 8448: what is laid in by others.

  (global $balls (mut i32) (i32.const 0))
  (global $flags (mut i32) (i32.const 0))
  ;; Where in a node the near sides of the boxes stand.
  (global $nx (mut i32) (i32.const 0))
  (global $ny (mut i32) (i32.const 0))
  (global $nz (mut i32) (i32.const 0))
  (global $top (mut i32) (i32.const 0))
  ;; The items of the leaf at hand that are still to be looked at.
  (global $item (mut i32) (i32.const 0))
  (global $end (mut i32) (i32.const 0))

  ;; Makes one axis of the ray ready. @returns where in a node, from the place of the axis, the near sides stand
  (func $axis (param $at i32) (param $o f64) (param $d f64) (result i32)
    (local $start f32)
    (local $room f32)
    (local $inverse f32)
    (local.set $start (f32.demote_f64 (local.get $o)))
    ;; Twice what rounding the start to a single float can take.
    (local.set $room (f32.mul (f32.abs (local.get $start)) (f32.const 1.2e-7)))
    ;; No infinity: times nothing it would be no number.
    (local.set $inverse
      (f32.max (f32.const -1e30) (f32.min (f32.const 1e30) (f32.demote_f64 (f64.div (f64.const 1) (local.get $d))))))
    ;; Near sides are seen from farther on, far sides from farther back.
    (if (f32.lt (local.get $inverse) (f32.const 0)) (then (local.set $room (f32.neg (local.get $room)))))
    (v128.store (local.get $at) (f32x4.splat (local.get $inverse)))
    (v128.store offset=48 (local.get $at) (f32x4.splat (f32.add (local.get $start) (local.get $room))))
    (v128.store offset=96 (local.get $at) (f32x4.splat (f32.sub (local.get $start) (local.get $room))))
    (select (i32.const 48) (i32.const 0) (f32.lt (local.get $inverse) (f32.const 0))))

  ;; Begins a walk of the ray that was written. @returns as `next`
  (func (export "first") (param $nodes i32) (param $balls i32) (param $flags i32) (result i32)
    (global.set $balls (local.get $balls))
    (global.set $flags (local.get $flags))
    (global.set $nx (call $axis (i32.const 8192) (f64.load (i32.const 8352)) (f64.load (i32.const 8376))))
    (global.set $ny
      (i32.add (i32.const 16) (call $axis (i32.const 8208) (f64.load (i32.const 8360)) (f64.load (i32.const 8384)))))
    (global.set $nz
      (i32.add (i32.const 32) (call $axis (i32.const 8224) (f64.load (i32.const 8368)) (f64.load (i32.const 8392)))))
    (v128.store (i32.const 0) (i32x4.replace_lane 0 (v128.const i32x4 0 0 0 0) (local.get $nodes)))
    (global.set $top (i32.const 16))
    (global.set $item (i32.const 0))
    (global.set $end (i32.const 0))
    (call $next))

  ;; Goes on; the distance may have been lowered. @returns an item whose ball is met within it, or -1
  (func $next (export "next") (result i32)
    (local $top i32) (local $item i32) (local $end i32)
    (local $node i32) (local $mask i32) (local $child i32) (local $at i32) (local $base i32)
    (local $most f32) (local $t f32)
    (local $near v128) (local $far v128)
    (local $ball i32) (local $radius f64) (local $along f64)
    (local $bx f64) (local $by f64) (local $bz f64)
    (local $fx f64) (local $fy f64) (local $fz f64)
    (local $dx f64) (local $dy f64) (local $dz f64) (local $limit f64)
    (local.set $dx (f64.load (i32.const 8376)))
    (local.set $dy (f64.load (i32.const 8384)))
    (local.set $dz (f64.load (i32.const 8392)))
    (local.set $limit (f64.load (i32.const 8400)))
    (local.set $top (global.get $top))
    (local.set $item (global.get $item))
    (local.set $end (global.get $end))
    (local.set $most (f32.mul (f32.demote_f64 (local.get $limit)) (f32.const 1.000001)))
    (loop $work
      (block $nextNode
        (loop $items
          (br_if $nextNode (i32.ge_u (local.get $item) (local.get $end)))
          (local.set $at (local.get $item))
          (local.set $item (i32.add (local.get $item) (i32.const 1)))
          (br_if $items
            (i32.eqz (i32.and (i32.load8_u (i32.add (global.get $flags) (local.get $at))) (i32.const 3))))
          (local.set $ball (i32.add (global.get $balls) (i32.shl (local.get $at) (i32.const 4))))
          (local.set $bx (f64.sub (f64.load (i32.const 8352)) (f64.promote_f32 (f32.load (local.get $ball)))))
          (local.set $by (f64.sub (f64.load (i32.const 8360)) (f64.promote_f32 (f32.load offset=4 (local.get $ball)))))
          (local.set $bz (f64.sub (f64.load (i32.const 8368)) (f64.promote_f32 (f32.load offset=8 (local.get $ball)))))
          (local.set $radius (f64.promote_f32 (f32.load offset=12 (local.get $ball))))
          (local.set $along
            (f64.add
              (f64.add (f64.mul (local.get $bx) (local.get $dx)) (f64.mul (local.get $by) (local.get $dy)))
              (f64.mul (local.get $bz) (local.get $dz))))
          (local.set $fx (f64.sub (local.get $bx) (f64.mul (local.get $along) (local.get $dx))))
          (local.set $fy (f64.sub (local.get $by) (f64.mul (local.get $along) (local.get $dy))))
          (local.set $fz (f64.sub (local.get $bz) (f64.mul (local.get $along) (local.get $dz))))
          ;; Beside it, behind the start, or past the distance: in one, since none can be foreseen.
          (br_if $items
            (i32.or
              ;; Not within it, which a ray of no numbers is neither.
              (i32.eqz
                (f64.le
                  (f64.add
                    (f64.add (f64.mul (local.get $fx) (local.get $fx)) (f64.mul (local.get $fy) (local.get $fy)))
                    (f64.mul (local.get $fz) (local.get $fz)))
                  (f64.mul (local.get $radius) (local.get $radius))))
              (i32.or
                (f64.gt (local.get $along) (local.get $radius))
                (f64.gt (f64.sub (f64.neg (local.get $along)) (local.get $radius)) (local.get $limit)))))
          (global.set $top (local.get $top))
          (global.set $item (local.get $item))
          (global.set $end (local.get $end))
          (return (local.get $at))))
      (if (i32.eqz (local.get $top))
        (then
          (global.set $top (i32.const 0))
          (global.set $item (local.get $end))
          (global.set $end (local.get $end))
          (return (i32.const -1))))
      (local.set $top (i32.sub (local.get $top) (i32.const 16)))
      (br_if $work (f32.gt (f32.load offset=8 (local.get $top)) (local.get $most)))
      (local.set $node (i32.load (local.get $top)))
      (local.set $end (i32.load offset=4 (local.get $top)))
      (if (local.get $end)
        (then
          (local.set $item (local.get $node))
          (local.set $end (i32.add (local.get $item) (local.get $end)))
          (br $work)))
      (local.set $item (i32.const 0))
      (loop $down
        (local.set $near (v128.const f32x4 0 0 0 0))
        (local.set $far (f32x4.splat (local.get $most)))
        (local.set $near
          (f32x4.pmax (local.get $near)
            (f32x4.mul
              (f32x4.sub (v128.load (i32.add (local.get $node) (global.get $nx))) (v128.load (i32.const 8240)))
              (v128.load (i32.const 8192)))))
        (local.set $near
          (f32x4.pmax (local.get $near)
            (f32x4.mul
              (f32x4.sub (v128.load (i32.add (local.get $node) (global.get $ny))) (v128.load (i32.const 8256)))
              (v128.load (i32.const 8208)))))
        (local.set $near
          (f32x4.pmax (local.get $near)
            (f32x4.mul
              (f32x4.sub (v128.load (i32.add (local.get $node) (global.get $nz))) (v128.load (i32.const 8272)))
              (v128.load (i32.const 8224)))))
        ;; The far sides stand as far from the middle of the two as the near ones: 0 and 48, 16 and 64, 32 and 80.
        (local.set $far
          (f32x4.pmin (local.get $far)
            (f32x4.mul
              (f32x4.sub
                (v128.load (i32.sub (i32.add (local.get $node) (i32.const 48)) (global.get $nx)))
                (v128.load (i32.const 8288)))
              (v128.load (i32.const 8192)))))
        (local.set $far
          (f32x4.pmin (local.get $far)
            (f32x4.mul
              (f32x4.sub
                (v128.load (i32.sub (i32.add (local.get $node) (i32.const 80)) (global.get $ny)))
                (v128.load (i32.const 8304)))
              (v128.load (i32.const 8208)))))
        (local.set $far
          (f32x4.pmin (local.get $far)
            (f32x4.mul
              (f32x4.sub
                (v128.load (i32.sub (i32.add (local.get $node) (i32.const 112)) (global.get $nz)))
                (v128.load (i32.const 8320)))
              (v128.load (i32.const 8224)))))
        ;; Each is three roundings off.
        (local.set $mask
          (i32x4.bitmask
            (f32x4.le (local.get $near) (f32x4.mul (local.get $far) (v128.const f32x4 1.000001 1.000001 1.000001 1.000001)))))
        (br_if $work (i32.eqz (local.get $mask)))
        (if (i32.eqz (i32.and (local.get $mask) (i32.sub (local.get $mask) (i32.const 1))))
          (then
            (local.set $at (i32.add (local.get $node) (i32.shl (i32.ctz (local.get $mask)) (i32.const 2))))
            (local.set $node (i32.load offset=96 (local.get $at)))
            (local.set $end (i32.load offset=112 (local.get $at)))
            (br_if $down (i32.eqz (local.get $end)))
            (local.set $item (local.get $node))
            (local.set $end (i32.add (local.get $item) (local.get $end)))
            (br $work)))
        ;; Several: they wait on the stack, the nearest on top.
        (v128.store (i32.const 8336) (local.get $near))
        (local.set $base (local.get $top))
        (loop $several
          (local.set $child (i32.shl (i32.ctz (local.get $mask)) (i32.const 2)))
          (local.set $mask (i32.and (local.get $mask) (i32.sub (local.get $mask) (i32.const 1))))
          (local.set $t (f32.load offset=8336 (local.get $child)))
          (local.set $at (local.get $top))
          (block $placed
            (loop $farther
              (br_if $placed (i32.eq (local.get $at) (local.get $base)))
              (br_if $placed
                (f32.ge (f32.load offset=8 (i32.sub (local.get $at) (i32.const 16))) (local.get $t)))
              (v128.store (local.get $at) (v128.load (i32.sub (local.get $at) (i32.const 16))))
              (local.set $at (i32.sub (local.get $at) (i32.const 16)))
              (br $farther)))
          (local.set $child (i32.add (local.get $node) (local.get $child)))
          (i32.store (local.get $at) (i32.load offset=96 (local.get $child)))
          (i32.store offset=4 (local.get $at) (i32.load offset=112 (local.get $child)))
          (f32.store offset=8 (local.get $at) (local.get $t))
          (local.set $top (i32.add (local.get $top) (i32.const 16)))
          (br_if $several (local.get $mask))))
      (br $work))
    (unreachable)))
