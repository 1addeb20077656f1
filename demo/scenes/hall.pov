// "The Last Boat to Vell": the ticket hall. Invented place. One unit is one metre.
// Declared from the command line: QUICK (0|1), CLOCK (seconds of the clock's hand), SIGN (swing, degrees),
// BOOM (0 = none, else 1), BX BY (where the boom's head hangs), BOOMONLY (a matte: the boom white on black).
#version 3.7;
#include "colors.inc"
#include "textures.inc"
#include "woods.inc"
#include "functions.inc"
#ifndef(QUICK) #declare QUICK=0; #end
#ifndef(CLOCK) #declare CLOCK=0; #end
#ifndef(SIGN) #declare SIGN=0; #end
#ifndef(BOOM) #declare BOOM=0; #end
#ifndef(BX) #declare BX=.2; #end
#ifndef(BY) #declare BY=2.3; #end
#ifndef(BOOMONLY) #declare BOOMONLY=0; #end

global_settings {
  assumed_gamma 1
  max_trace_level 6
  #if (!QUICK & !BOOMONLY)
  radiosity { pretrace_start .08 pretrace_end .01 count 120 nearest_count 10 error_bound .7 recursion_limit 2 low_error_factor .6 gray_threshold .1 brightness 1 minimum_reuse .01 }
  #end
}
camera { location <.2,1.5,-4.2> right x*16/9 look_at <.06,1.3,0> angle 52 }

#if (!BOOMONLY)
// ---- materials -----------------------------------------------------------------------------------------
#declare Worn = pigment { wrinkles turbulence .6 lambda 2.3 scale <1.1,.9,1> color_map { [0 rgb <.46,.47,.40>] [.4 rgb <.55,.55,.465>] [.75 rgb <.575,.57,.485>] [1 rgb <.63,.61,.52>] } };
#declare Damp = pigment { gradient y turbulence .25 scale 3.6 color_map { [0 rgb <.62,.6,.52>] [.33 rgb <.86,.85,.8>] [.55 rgb 1] [1 rgb <.9,.9,.88>] } };
#declare Fleck = pigment { granite scale .22 color_map { [0 rgb .9] [.42 rgb .97] [.9 rgb 1.0] [1 rgb 1.06] } };
#declare WornF = function { pigment { Worn } }
#declare DampF = function { pigment { Damp } }
#declare FleckF = function { pigment { Fleck } }
// wear, damp and fleck multiplied, then given the paint's colour
#declare Wall = texture {
  pigment { function { WornF(x,y,z).green*DampF(x,y,z).green*FleckF(x,y,z).green } color_map { [0 rgb 0] [.25 rgb <.215,.24,.175>] [.5 rgb <.5,.5,.41>] [.7 rgb <.71,.7,.6>] [1 rgb 1] } }
  normal { average normal_map { [1 granite .09 scale .3] [1.4 wrinkles .22 scale .9] [1 bumps .10 scale .012] } }
  finish { diffuse .82 } };
#macro Board(I)
  #local S = seed(40+I*13);
  texture {
    pigment { wood turbulence <.035,.02,.12> octaves 5 scale <.11,.11,1> rotate <88+4*rand(S), 3*(rand(S)-.5), 0> translate <I*3.17+rand(S),I*1.7,rand(S)*4>
      color_map { [0 rgb <.30,.225,.125>*(.86+.2*rand(S))] [.45 rgb <.37,.28,.16>*(.9+.18*rand(S))] [.8 rgb <.33,.245,.135>] [1 rgb <.24,.17,.09>] } }
    normal { granite .04 scale <.05,.7,.05> }
    finish { diffuse .74 specular .10 roughness .045 reflection { .0, .045 } }
  }
#end
#declare Oak = texture {
  pigment { wood turbulence <.05,.05,.2> octaves 5 scale <.06,.06,1> rotate 87*y rotate 3*z color_map { [0 rgb <.31,.165,.075>] [.5 rgb <.40,.225,.11>] [.85 rgb <.27,.14,.06>] [1 rgb <.2,.1,.045>] } }
  normal { granite .05 scale <.5,.03,.03> } finish { diffuse .7 specular .22 roughness .03 reflection { .0,.06 } } };
#declare Tile = texture {
  checker
  texture { pigment { granite scale .5 turbulence .4 color_map { [0 rgb <.075,.075,.07>] [1 rgb <.15,.145,.135>] } } normal { bumps .025 scale .3 } finish { diffuse .75 reflection { .03,.22 } specular .2 roughness .03 } }
  texture { pigment { granite scale .6 turbulence .4 color_map { [0 rgb <.38,.355,.29>] [1 rgb <.52,.49,.41>] } } normal { bumps .03 scale .25 } finish { diffuse .75 reflection { .02,.18 } specular .2 roughness .03 } }
  scale .4 translate <.13,0,.07> };
#declare Iron = texture { pigment { granite scale .1 color_map { [0 rgb .035] [1 rgb .07] } } normal { bumps .1 scale .01 } finish { diffuse .6 specular .35 roughness .05 } };

// ---- room ----------------------------------------------------------------------------------------------
plane { y, 0 texture { Tile } }
box { <-5,0,2> <5,3.5,2.2> texture { Wall } }
box { <-5,3.5,-8> <5,3.7,3> pigment { rgb <.62,.6,.55> } }
difference { box { <-3.5,0,-8> <-3.3,3.5,3> } box { <-4,.95,-2.6> <-3,2.75,-.9> } texture { Wall rotate 90*y } }
// glazing bars of the window on the left; they throw the pattern on the wall
#for (i,0,3) box { <-3.42,.95,-2.6+i*.567-.022> <-3.38,2.75,-2.6+i*.567+.022> pigment { rgb .12 } } #end
#for (i,0,3) box { <-3.42,.95+i*.6-.02,-2.6> <-3.38,.95+i*.6+.02,-.9> pigment { rgb .12 } } #end
box { <3.5,0,-8> <3.7,3.5,3> texture { Wall rotate 90*y translate 3 } }
box { <-6,0,-8.2> <6,3.5,-8> pigment { rgb <.5,.48,.42> } }
// wainscot: tongue-and-groove boards of unequal tone, a bead in each joint, a cap and a skirting
#declare X0=-3.3; #declare I=0; #declare RW=seed(77);
#while (X0<3.5)
  #declare W=.132+.016*rand(RW);
  #declare D=.004*rand(RW);
  union {
    box { <X0+.0035,.1,1.965-D> <X0+W-.0035,1.1,2> }
    cylinder { <X0+.012,.1,1.966-D> <X0+.012,1.1,1.966-D>, .0065 }
    Board(I)
  }
  #declare X0=X0+W; #declare I=I+1;
#end
#macro Along(A,B) box { <A,1.1,1.93> <B,1.135,2> Board(71) } box { <A,1.135,1.955> <B,1.165,2> Board(72) } box { <A,0,1.94> <B,.12,2> Board(73) } #end
Along(-5,1.56) Along(2.48,5)
// a pipe along the wall, and a socket
cylinder { <2.62,0,1.93> <2.62,3.5,1.93>, .022 pigment { rgb <.42,.41,.35> } normal { granite .1 scale .05 } finish { specular .3 roughness .04 } }
#for (i,0,2) torus { .025,.009 translate <2.62,.6+i*1.2,1.93> pigment { rgb <.3,.29,.26> } finish { specular .3 } } #end

// ---- cork board with its slips, a frame round it -----------------------------------------------------
box { <-1.62,1.46,1.965> <-.42,2.22,2> pigment { granite scale .045 color_map { [0 rgb <.22,.125,.05>] [.5 rgb <.32,.19,.085>] [1 rgb <.4,.26,.125>] } } normal { granite .35 scale .02 } finish { diffuse .75 } }
#macro Rail(A,B) box { A, B texture { Oak } } #end
Rail(<-1.655,1.43,1.955>,<-.385,1.465,2>) Rail(<-1.655,2.215,1.955>,<-.385,2.25,2>)
Rail(<-1.655,1.43,1.954>,<-1.62,2.25,2>) Rail(<-.42,1.43,1.954>,<-.385,2.25,2>)
#declare RS=seed(23);
#declare Slips = array[9] { <-1.46,2.02>,<-1.17,1.98>,<-.88,2.03>,<-.6,1.99>,<-1.4,1.66>,<-1.08,1.63>,<-.8,1.69>,<-.55,1.64>,<-1.26,1.85> };
#for (i,0,8)
  #local PW=.075+.03*rand(RS); #local PH=.1+.03*rand(RS); #local C=<.62+.1*rand(RS),.6+.08*rand(RS),.5+.1*rand(RS)>;
  union {
    mesh { // a sheet whose lower corner curls off the board
      #local N=8;
      #for (a,0,N-1) #for (b,0,N-1)
        #local P = array[4];
        #for (k,0,3)
          #local U=(a+mod(k,2))/N; #local V=(b+floor(k/2))/N;
          #local P[k]=<(U-.5)*2*PW,(V-.5)*2*PH,-.002-.028*pow(max(0,.6*U+1-V-.9),2)>;
        #end
        triangle { P[0],P[1],P[3] } triangle { P[0],P[3],P[2] }
      #end #end
      texture { pigment { image_map { png "hall-slip.png" once interpolate 2 } translate <-.5,-.5,0> scale <2*PW,2*PH,1> } finish { diffuse .8 } }
    }
    sphere { <0,PH-.018,-.006>, .009 pigment { rgb <.35*rand(RS)+.1,.09,.06> } finish { specular .6 roughness .01 } }
    rotate z*(rand(RS)-.5)*9
    translate <Slips[i].x, Slips[i].y, 1.961-.001*i>
  }
#end

// ---- clock ---------------------------------------------------------------------------------------------
#declare CX=.74; #declare CY=2.03;
union {
  difference { cylinder { <0,0,1.9> <0,0,2>, .275 } cylinder { <0,0,1.8> <0,0,1.97>, .245 } pigment { rgb <.055,.045,.035> } normal { granite .03 scale .02 } finish { specular .5 roughness .02 reflection .03 } }
  torus { .26,.016 rotate 90*x translate 1.9*z pigment { rgb <.06,.05,.04> } finish { specular .6 roughness .015 reflection .05 } }
  cylinder { <0,0,1.945> <0,0,1.95>, .25 pigment { granite scale .6 color_map { [0 rgb <.66,.63,.53>] [1 rgb <.74,.71,.61>] } } finish { diffuse .75 } }
  #for (i,0,59)
    #if (mod(i,5)=0) box { <-.006,.185,1.9435> <.006,.226,1.945> rotate -z*i*6 pigment { rgb .04 } }
    #else box { <-.0022,.209,1.9435> <.0022,.226,1.945> rotate -z*i*6 pigment { rgb .05 } } #end
  #end
  box { <-.013,-.03,1.930> <.013,.125,1.935> rotate -z*292 pigment { rgb .025 } finish { specular .2 } }
  box { <-.009,-.035,1.924> <.009,.196,1.929> rotate -z*222 pigment { rgb .025 } finish { specular .2 } }
  union { box { <-.0035,-.05,1.917> <.0035,.2,1.920> } cylinder { <0,-.05,1.917> <0,-.05,1.920>, .012 } rotate -z*(132+CLOCK*6) pigment { rgb <.45,.05,.03> } }
  cylinder { <0,0,1.915> <0,0,1.94>, .014 pigment { rgb .03 } finish { specular .5 } }
  translate <CX,CY,0>
}

// ---- bench, bag, umbrella ---------------------------------------------------------------------------------
union {
  #for (i,0,4) box { <-1.35,.43,1.16+i*.112> <1.05,.462,1.258+i*.112> texture { Oak translate <i*2.3,i,i*3> } } #end
  #for (i,0,2) box { <-1.35,.58+i*.135,1.725-.01*i> <1.05,.69+i*.135,1.75-.01*i> texture { Oak translate <i*1.3,i*3,7> } } #end
  #for (i,0,2) union {
      box { <-.03,0,1.2> <.03,.43,1.25> } box { <-.03,0,1.66> <.03,.98,1.72> } box { <-.03,.36,1.2> <.03,.43,1.7> }
      translate x*(-1.22+i*1.07) texture { Iron } } #end
}
union {
  superellipsoid { <.18,.18> scale <.3,.2,.12> }
  texture { pigment { bozo scale .07 turbulence .4 color_map { [0 rgb <.085,.035,.018>] [1 rgb <.15,.065,.033>] } } normal { granite .18 scale .02 } finish { diffuse .7 specular .18 roughness .05 } }
  translate <.42,.665,1.45>
}
torus { .07,.011 rotate 90*x scale <1,.75,1> translate <.42,.87,1.45> texture { Iron } }
box { <.12,.6,1.322> <.72,.616,1.329> texture { Iron } }
#for (i,0,1) box { <.2+i*.38,.48,1.318> <.235+i*.38,.862,1.328> pigment { rgb <.09,.05,.03> } finish { specular .2 } } #end
union {
  cone { <0,.0,0>,.006 <0,.1,0>,.012 } cone { <0,.1,0>,.02 <0,.62,0>,.045 } cylinder { <0,.62,0> <0,.78,0>,.01 }
  torus { .035,.01 rotate 90*x translate <.035,.78,0> clipped_by { plane { -y,-.775 } } }
  rotate -z*9 rotate x*11 translate <-1.55,0,1.62> pigment { rgb <.03,.04,.055> } normal { wrinkles .3 scale <.02,.3,.02> } finish { diffuse .7 specular .1 }
}
// ---- ticket door on the right with its hanging sign ----------------------------------------------------------
box { <1.62,0,1.955> <2.42,2.16,2> texture { pigment { granite scale .7 color_map { [0 rgb <.085,.12,.105>] [1 rgb <.12,.16,.14>] } } normal { granite .04 scale <.05,.6,.05> } finish { diffuse .7 specular .2 roughness .04 } } }
#for (i,0,1) box { <1.72,.2+i*.98,1.948> <2.32,1.02+i*.98,1.957> texture { pigment { granite scale .7 color_map { [0 rgb <.07,.1,.088>] [1 rgb <.1,.137,.12>] } } finish { diffuse .7 specular .2 roughness .04 } } } #end
Rail(<1.55,0,1.94>,<1.62,2.23,2>) Rail(<2.42,0,1.94>,<2.49,2.23,2>) Rail(<1.55,2.16,1.94>,<2.49,2.23,2>)
sphere { <1.72,1.08,1.90>,.032 pigment { rgb <.45,.33,.13> } finish { specular .8 roughness .01 reflection .2 metallic } }
union {
  box { <-.21,-.3,-.012> <.21,-.04,.012>
    texture { pigment { image_map { png "hall-sign.png" once interpolate 2 } translate <-.5,-.5,0> scale <.42,.26,1> translate <0,-.17,0> } finish { diffuse .75 specular .1 } } }
  #for (i,-1,1,2) cylinder { <i*.15,-.045,0> <0,.1,0>,.0035 texture { Iron } } #end
  sphere { <0,.1,0>,.014 texture { Iron } }
  translate -.1*y rotate z*SIGN translate <2.02,1.86,1.915>
}
// ---- light: low sun through the window, sky, one warm lamp --------------------------------------------------
#macro Area(V,U,N) #if (!QUICK) area_light V,U,N,N adaptive 1 #end #end
light_source { <-9.6,3.55,-9> rgb <1.0,.80,.55>*1.75 Area(<.2,0,0>,<0,.2,0>,6) }
light_source { <-5.2,2.6,-2.4> rgb <.62,.75,.95>*1.5 fade_distance 2.5 fade_power 2 Area(<0,0,1.6>,<0,1.6,0>,5) }
light_source { <1.3,3.1,-1.5> rgb <1,.80,.56>*2.1 fade_distance 2.2 fade_power 2 Area(<.35,0,0>,<0,0,.35>,5) }
#if (QUICK) light_source { <0,2,-5> rgb .35 shadowless } #end
sky_sphere { pigment { rgb <.62,.72,.9>*1.4 } }
#end

// ---- the intruder: a boom pole with a microphone in a fur sleeve -----------------------------------------------
#if (BOOM)
union {
  #local HX=BX; #local HY=BY; #local HZ=.75;
  cylinder { <HX+.12,HY+.05,HZ-.06> <HX+1.75,HY+1.2,HZ-1.5>, .015 #if (BOOMONLY) pigment { rgb 1 } finish { ambient 1 diffuse 0 } #else pigment { rgb .035 } finish { specular .5 roughness .02 } #end }
  union {
    sphere_sweep { linear_spline 2, <.12,.05,-.06>,.07 <-.15,-.06,.07>,.068 }
    #if (!QUICK)
    #local RF=seed(9);
    // tufts of the fur
    #for (i,0,420)
      #local T=rand(RF); #local A=rand(RF)*2*pi; #local Ax=vnormalize(<-.27,-.11,.13>);
      #local U=vnormalize(vcross(Ax,<.3,1,.2>)); #local V=vcross(Ax,U);
      #local C=<.12,.05,-.06>+(<-.27,-.11,.13>)*(T*1.4-.2); #local Rr=.066*sqrt(max(.05,1-pow(max(0,abs(T*1.4-.7)-.5)/.25,2)));
      #local Dn=U*cos(A)+V*sin(A);
      cone { C+Dn*Rr,.007, C+Dn*(Rr+.022+.012*rand(RF))+Ax*.02*(rand(RF)-.2)-y*.008,.0006 }
    #end
    #end
    translate <HX,HY,HZ>
    #if (BOOMONLY) pigment { rgb 1 } finish { ambient 1 diffuse 0 }
    #else pigment { granite scale .03 color_map { [0 rgb .03] [1 rgb .095] } } normal { bumps 1 scale .007 } finish { diffuse .65 } #end
  }
}
#end
