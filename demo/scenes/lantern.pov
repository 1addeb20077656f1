// "The Last Boat to Vell": a brass lantern on its hook. Invented place. One unit is one metre.
// Declared from the command line: QUICK, TURN (degrees, about the hook), TAPE (0|1), and PART, what is drawn: 0 = the room behind,
// 1 = the lantern alone, 2 = the tape white and all else of the lantern black, 3 = the chain alone, 4 = the hook alone.
// It sways about the line of sight, which turns the picture and nothing else: that is left to the generator.
// What is drawn alone carries its coverage as alpha.
#version 3.7;
#include "common.inc"
#ifndef(PART) #declare PART=0; #end
#ifndef(TURN) #declare TURN=0; #end
#ifndef(TAPE) #declare TAPE=1; #end
global_settings { assumed_gamma 1 max_trace_level 4 adc_bailout .03 }
camera { location <0,0,-1.42> right x*16/9 look_at <0,0,0> angle 32 }

// ---- the room: seen out of focus, and mirrored in the brass ------------------------------------------------------
#declare Plank = texture { pigment { wood turbulence <.03,.03,.15> octaves 5 scale <.09,.09,1.2> rotate 88*x color_map { [0 rgb <.10,.062,.036>] [.5 rgb <.15,.098,.058>] [1 rgb <.07,.043,.025>] } } normal { granite .1 scale <.05,.6,.05> } finish { diffuse .75 } };
#macro Bottle(X,Y,H,C) union { cylinder { <0,0,0> <0,H*.66,0>,H*.17 } cone { <0,H*.66,0>,H*.17 <0,H*.8,0>,H*.06 } cylinder { <0,H*.8,0> <0,H,0>,H*.065 } pigment { rgb C } finish { diffuse .5 specular .9 roughness .01 reflection .1 } translate <X,Y,2.75> } #end
#if (PART<2)
union {
  #declare R=seed(3);
  #for (i,-14,14) box { <i*.17+.004,-2,3> <i*.17+.166,2.5,3.1+.02*rand(R)> texture { Plank translate <rand(R)*7,rand(R)*5,rand(R)> } } #end
  // a window with its bars, and a sill
  box { <-1.02,-.22,2.97> <-.30,.86,2.99> pigment { gradient y scale 1.3 translate -.3*y color_map { [0 rgb <.55,.6,.62>] [.4 rgb <.78,.86,.95>] [1 rgb <.62,.78,1>] } } finish { emission 1.25 diffuse 0 } }
  #for (i,0,2) box { <-1.03+i*.355,-.24,2.93> <-.99+i*.355,.88,2.97> pigment { rgb <.16,.13,.10> } } box { <-1.04,-.24+i*.545,2.93> <-.28,-.20+i*.545,2.97> pigment { rgb <.16,.13,.10> } } #end
  // a shelf of bottles and tins
  box { <.25,-.36,2.6> <1.5,-.33,2.95> texture { Plank rotate 90*z } }
  Bottle(.36,-.33,.34,<.03,.12,.07>) Bottle(.52,-.33,.27,<.22,.09,.02>) Bottle(.86,-.33,.38,<.02,.07,.10>) Bottle(1.06,-.33,.25,<.32,.26,.14>)
  box { <.62,-.33,2.7> <.76,-.14,2.85> pigment { rgb <.35,.07,.04> } } cylinder { <1.25,-.33,2.75> <1.25,-.12,2.75>,.075 pigment { rgb <.42,.40,.34> } finish { specular .5 reflection .15 } }
  // coiled rope on a peg
  #for (i,0,4) torus { .19-.004*i,.019 rotate 90*x scale <.8,1.15,1> rotate 3*i*z translate <1.02-.02*i,.36,2.86-.03*i> pigment { rgb <.34,.27,.17> } } #end
  // small lamps along the beam, far off
  #for (i,0,4) sphere { <.15+i*.26,.68-.035*sin(i*2.1),2.9>,.016 pigment { rgb <1,.62,.24> } finish { emission 5 diffuse 0 } } #end
  #if (PART=1) no_image #end
  #if (PART=1) no_shadow #end
}
#end
#if (PART=1 | PART=3)
// what the brass and the chain mirror besides: the room on the camera's side
union {
  box { <-3,-1.6,-5> <3.4,2.4,-5.1> pigment { rgb <.05,.042,.034> } finish { emission .5 diffuse 0 } }
  box { <-3.2,-1.6,-5> <-3.1,2.4,3> pigment { rgb <.075,.06,.045> } finish { emission .6 diffuse 0 } }
  box { <3.2,-1.6,-5> <3.3,2.4,3> pigment { rgb <.085,.055,.035> } finish { emission .5 diffuse 0 } }
  box { <-3.2,-1.65,-5> <3.3,-1.6,3> pigment { rgb <.07,.05,.034> } finish { emission .6 diffuse 0 } }
  box { <-3.2,2.3,-5> <3.3,2.4,3> pigment { rgb <.06,.05,.04> } finish { emission .5 diffuse 0 } }
  box { <-3.09,-.5,-2.6> <-3.05,1.6,-.9> pigment { gradient y scale 2.2 translate -.6*y color_map { [0 rgb <.55,.6,.62>] [.5 rgb <.8,.88,1>] [1 rgb <.6,.78,1>] } } finish { emission 1.5 diffuse 0 } }
  box { <-3.04,.52,-2.6> <-3.03,.6,-.9> pigment { rgb .03 } } box { <-3.04,-.5,-1.8> <-3.03,1.6,-1.72> pigment { rgb .03 } }
  box { <1.9,.2,-4.95> <2.5,1.3,-4.9> pigment { rgb <1,.7,.4> } finish { emission 1.1 diffuse 0 } }
  no_image no_shadow
}
#end
#if (PART=2)
#else
light_source { <-2.9,.9,-1.9> rgb <.74,.84,1.0>*1.75 #if (!QUICK) area_light <0,0,1.2>,<0,1.3,0>,3,3 adaptive 0 #end }
light_source { <2.0,1.1,-3.6> rgb <1,.72,.42>*.62  }
light_source { <1.6,1.5,2.2> rgb <1,.66,.34>*.9  }
light_source { <0,.6,1.6> rgb <.25,.2,.15>*.35 shadowless }
#end

// ---- the lantern -----------------------------------------------------------------------------------------------
#if (PART=1 | PART=2)
#if (PART=2)
  #declare Brass = texture { pigment { rgb 0 } finish { ambient 0 diffuse 0 } }; #declare Worn = Brass; #declare Iron = Brass; #declare Glass = texture { pigment { rgbt <1,1,1,1> } finish { diffuse 0 } }; #declare Wick = Brass;
  #declare Tape = texture { pigment { rgb 1 } finish { emission 1 diffuse 0 } };
#else
  #declare Polished = texture { pigment { rgb <.50,.325,.115> } normal { average normal_map { [1 bumps .035 scale .0035] [1 granite .025 scale .11] [1 wrinkles .07 scale .05] } } finish { diffuse .24 specular .8 roughness .012 metallic reflection { .40,.62 metallic } } };
  #declare Dull = texture { pigment { granite scale .05 color_map { [0 rgb <.13,.078,.03>] [.6 rgb <.21,.132,.05>] [1 rgb <.10,.095,.06>] } } normal { average normal_map { [1 bumps .10 scale .003] [1 granite .1 scale .03] } } finish { diffuse .62 specular .25 roughness .05 metallic reflection { .03,.14 metallic } } };
  #declare Brass = texture { bozo turbulence .7 octaves 5 lambda 2.3 scale .062 texture_map { [.30 Polished] [.62 Polished] [.78 Dull] } };
  #declare Worn = texture { bozo turbulence .8 octaves 5 lambda 2.2 scale .04 texture_map { [.18 Polished] [.46 Dull] } };
  #declare Iron = texture { pigment { granite scale .02 color_map { [0 rgb .03] [1 rgb <.11,.075,.05>] } } normal { granite .2 scale .01 } finish { diffuse .6 specular .3 roughness .05 } };
  #declare Glass = texture { pigment { granite scale .08 color_map { [0 rgbt <.96,.97,.95,.955>] [.75 rgbt <.93,.93,.90,.93>] [1 rgbt <.75,.73,.66,.80>] } } finish { diffuse .25 specular .9 roughness .004 reflection { .055,.32 } } };
  #declare Wick = texture { pigment { rgb <.09,.08,.06> } };
  #declare Tape = texture { pigment { image_map { png "lantern-tape.png" map_type 0 once interpolate 2 } translate <-.5,-.5,0> scale <.074,.0247,1> } normal { wrinkles .35 scale .008 } finish { diffuse .72 specular .12 roughness .05 } };
#end
#declare RT = .0742;  // radius of the tank's straight part
#declare Lantern = union {
  object { Turned(array[16] { <0,-.1990>,<.04,-.199>,<.072,-.1985>,<.0765,-.194>,<.0755,-.188>,<RT,-.183>,<RT,-.17>,<RT,-.13>,<RT,-.118>,<.0735,-.112>,<.069,-.106>,<.055,-.101>,<.040,-.098>,<.036,-.090>,<.0,-.0895>,<0,-.088> }, 64, 48) texture { Brass } }
  torus { RT+.0008,.0022 translate -.181*y texture { Brass } } torus { RT+.0008,.0022 translate -.1175*y texture { Brass } }
  // filler cap, burner, wheel
  cylinder { <.05,-.104,-.022> <.05,-.094,-.022>,.0105 texture { Worn } }
  object { Turned(array[7] { <.038,-.095>,<.038,-.086>,<.028,-.078>,<.028,-.066>,<.018,-.058>,<.004,-.056>,<0,-.056> }, 28, 48) texture { Worn } }
  cylinder { <.02,-.072,-.01> <.052,-.072,-.03>,.0022 texture { Worn } } cylinder { <.049,-.072,-.028> <.053,-.072,-.0305>,.0085 texture { Brass } }
  box { <-.0055,-.058,-.001> <.0055,-.049,.001> texture { Wick } }
  // collars that hold the glass
  object { Turned(array[9] { <.052,-.100>,<.057,-.0975>,<.0615,-.092>,<.0595,-.086>,<.0575,-.083>,<.0555,-.086>,<.0545,-.092>,<.052,-.0975>,<.05,-.1> }, 36, 48) texture { Worn } }
  object { Turned(array[8] { <.050,.064>,<.0575,.066>,<.0605,.072>,<.0615,.079>,<.058,.083>,<.052,.081>,<.050,.072>,<.049,.066> }, 32, 48) texture { Worn } }
  // the glass, a little bellied
  object { Turned(array[9] { <.053,-.095>,<.0555,-.088>,<.061,-.062>,<.0645,-.025>,<.0635,.012>,<.059,.045>,<.0545,.068>,<.053,.074>,<.052,.08> }, 36, 48) texture { Glass } no_shadow }
  // guards
  #for (i,0,3)
    object { Wire(array[8] { <.067,-.125,0>,<.070,-.108,0>,<.0735,-.08,0>,<.0755,-.03,0>,<.0745,.02,0>,<.069,.064,0>,<.062,.085,0>,<.055,.095,0> }, .0024, 40) texture { Brass } rotate (i*90+38)*y }
  #end
  torus { .0755,.0023 translate -.022*y texture { Brass } }
  // the cap with its vents, crown and ring
  object { Turned(array[14] { <.056,.078>,<.062,.082>,<.072,.088>,<.0755,.0925>,<.071,.098>,<.056,.108>,<.042,.117>,<.036,.124>,<.035,.135>,<.037,.140>,<.030,.147>,<.015,.153>,<.0,.1545>,<-.01,.155> }, 56, 48) texture { Brass } }
  #for (i,0,11) superellipsoid { <.5,.4> scale <.0035,.0055,.004> translate <0,.1298,-.0348> rotate i*30*y texture { Iron } } #end
  torus { .0372,.0017 translate .1405*y texture { Brass } }
  cylinder { <0,.153,0> <0,.162,0>,.006 texture { Worn } }
  torus { .0155,.0026 rotate 90*x translate .176*y texture { Brass } }
  // bail: a wire handle laid back
  object { Wire(array[9] { <-.074,.080,0>,<-.0755,.086,0>,<-.083,.082,.012>,<-.086,.05,.042>,<0,.018,.085>,<.086,.05,.042>,<.083,.082,.012>,<.0755,.086,0>,<.074,.080,0> }, .0019, 40) texture { Iron } }
  #if (TAPE)
  // a strip of marker tape, stuck on a little askew, one end lifting
  intersection {
    difference { cylinder { <0,-.2,0> <0,-.1,0>,RT+.00075 } cylinder { <0,-.3,0> <0,0,0>,RT+.00025 } }
    box { <-.037,-.01235,-.2> <.037,.01235,0> rotate z*-3.2 translate <.006,-.149,0> }
    texture { Tape rotate z*-3.2 translate <.006,-.149,0> }
    rotate y*-14
  }
  #end
};
union {
  object { Lantern translate -.1935*y }
  #if (PART=1) sphere { 0,1 scale <.0062,.0165,.0062> translate <0,-.1935-.033,0> pigment { rgbt <1,.70,.30,.2> } finish { emission 2.6 diffuse 0 } no_shadow } light_source { <0,-.1935-.03,0> rgb <1,.55,.2>*.30 fade_distance .06 fade_power 2 } #end
  rotate TURN*y translate .1935*y
}
#end
#if (PART=4)
// the hook, from above
#declare Iron = texture { pigment { granite scale .02 color_map { [0 rgb .03] [1 rgb <.11,.075,.05>] } } normal { granite .2 scale .01 } finish { diffuse .6 specular .3 roughness .05 } };
object { Wire(array[9] { <0,.5,0>,<0,.4,0>,<0,.26,0>,<.004,.235,0>,<.017,.215,0>,<.012,.192,0>,<-.004,.1885,0>,<-.015,.197,0>,<-.0165,.212,0> }, .0042, 40) texture { Iron } }
#end

// ---- a chain, nearer than the lantern ---------------------------------------------------------------------------
#if (PART=3)
#declare Steel = texture { pigment { granite scale .02 color_map { [0 rgb <.10,.095,.09>] [.6 rgb <.2,.19,.18>] [1 rgb <.22,.13,.075>] } } normal { granite .15 scale .012 } finish { diffuse .55 specular .6 roughness .03 metallic reflection { .05,.2 metallic } } };
#declare Link = union {
  #for (e,-1,1,2) cylinder { <e*.0085,-.0105,0> <e*.0085,.0105,0>,.0034 } #end
  difference { torus { .0085,.0034 rotate 90*x } plane { y,0 } translate .0105*y }
  difference { torus { .0085,.0034 rotate 90*x } plane { -y,0 } translate -.0105*y }
  texture { Steel }
};
#declare RC=seed(12);
#for (i,-9,9) object { Link rotate y*(90*mod(i+20,2)+24+9*(rand(RC)-.5)) rotate z*4*(rand(RC)-.5) translate <0,i*.0305,-.32> } #end
#end
